-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

SELECT CAST(IF(current_catalog = 'archive', '1', 'not the database that was compared, nothing was done') AS integer) AS place;
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- log: deletes
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: log') AS integer) AS guard FROM (SELECT count(*) AS found FROM "log" WHERE "words" IS NULL);
DELETE FROM "log" WHERE "words" IS NULL AND 1 = (SELECT count(*) FROM "log" WHERE "words" IS NULL);

-- log: inserts
INSERT INTO "log" ("words") VALUES ('calm');
INSERT INTO "log" ("words") VALUES ('calm');

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B1', '名', NULL);
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B2', NULL, NULL);

-- station: references within the table, now that all its rows are there
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code B1') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'B1' AND "lead" IS NULL);
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL;
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code B2') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'B2' AND "lead" IS NULL);
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL;

-- station: updates
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code A1') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1');
UPDATE "station" SET "na""me" = U&'it''s a \\ and\000Aa line' WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1';

-- reading: updates
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: reading, id -9223372036854775808') AS integer) AS guard FROM (SELECT count(*) AS found FROM "reading" WHERE "id" = BIGINT '-9223372036854775808' AND to_ieee754_64("pressure") = to_ieee754_64(DOUBLE '1.0E300') AND "good" IS NULL AND "station" = 'A1' AND "level" = DECIMAL '1.500' AND "on_day" IS NULL);
UPDATE "reading" SET "pressure" = DOUBLE '4.9E-324', "good" = FALSE WHERE "id" = BIGINT '-9223372036854775808' AND to_ieee754_64("pressure") = to_ieee754_64(DOUBLE '1.0E300') AND "good" IS NULL AND "station" = 'A1' AND "level" = DECIMAL '1.500' AND "on_day" IS NULL;

-- reading: inserts
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (BIGINT '7', 'B1', DECIMAL '-1.250', DOUBLE '0.1', TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP '2026-10-25 01:30:00 UTC', X'00ff', UUID '00000000-0000-0001-0000-000000000002', TRUE);

-- station: references within the table that would keep rows from being deleted
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code C1') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'C1' AND "lead" = 'C2');
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2';

-- station: deletes
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code C2') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1');
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code C1') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL);
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL;

SELECT '13 changes made and committed' AS result;

-- UNDO
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

SELECT CAST(IF(current_catalog = 'archive', '1', 'not the database that was compared, nothing was done') AS integer) AS place;
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- log: deletes
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: log') AS integer) AS guard FROM (SELECT count(*) AS found FROM "log" WHERE "words" = 'calm');
DELETE FROM "log" WHERE "words" = 'calm' AND 1 = (SELECT count(*) FROM "log" WHERE "words" = 'calm');
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: log') AS integer) AS guard FROM (SELECT count(*) AS found FROM "log" WHERE "words" = 'calm');
DELETE FROM "log" WHERE "words" = 'calm' AND 1 = (SELECT count(*) FROM "log" WHERE "words" = 'calm');

-- log: inserts
INSERT INTO "log" ("words") VALUES (NULL);

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C1', '', NULL);
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C2', ' ', 'C1');

-- station: references within the table, now that all its rows are there
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code C1') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'C1' AND "lead" IS NULL);
UPDATE "station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL;

-- station: updates
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code A1') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'A1' AND "na""me" = U&'it''s a \\ and\000Aa line' AND "lead" = 'A1');
UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = U&'it''s a \\ and\000Aa line' AND "lead" = 'A1';

-- reading: deletes
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: reading, id 7') AS integer) AS guard FROM (SELECT count(*) AS found FROM "reading" WHERE "id" = BIGINT '7' AND "station" = 'B1' AND "level" = DECIMAL '-1.250' AND to_ieee754_64("pressure") = to_ieee754_64(DOUBLE '0.1') AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMP '2026-10-25 01:30:00 UTC' AND "raw" = X'00ff' AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE);
DELETE FROM "reading" WHERE "id" = BIGINT '7' AND "station" = 'B1' AND "level" = DECIMAL '-1.250' AND to_ieee754_64("pressure") = to_ieee754_64(DOUBLE '0.1') AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMP '2026-10-25 01:30:00 UTC' AND "raw" = X'00ff' AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE;

-- reading: updates
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: reading, id -9223372036854775808') AS integer) AS guard FROM (SELECT count(*) AS found FROM "reading" WHERE "id" = BIGINT '-9223372036854775808' AND to_ieee754_64("pressure") = to_ieee754_64(DOUBLE '4.9E-324') AND "good" = FALSE AND "station" = 'A1' AND "level" = DECIMAL '1.500' AND "on_day" IS NULL);
UPDATE "reading" SET "pressure" = DOUBLE '1.0E300', "good" = NULL WHERE "id" = BIGINT '-9223372036854775808' AND to_ieee754_64("pressure") = to_ieee754_64(DOUBLE '4.9E-324') AND "good" = FALSE AND "station" = 'A1' AND "level" = DECIMAL '1.500' AND "on_day" IS NULL;

-- station: references within the table that would keep rows from being deleted
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code B1') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'B1' AND "lead" = 'B2');
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2';
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code B2') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'B2' AND "lead" = 'B2');
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2';

-- station: deletes
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code B2') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL);
DELETE FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL;
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code B1') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL);
DELETE FROM "station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL;

SELECT '13 changes made and committed' AS result;

-- MEND
-- ScriptForm[style=batch, guarded=true, oldValues=true, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

CREATE TABLE IF NOT EXISTS "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
SELECT CAST(IF(current_catalog = 'archive', '1', 'not the database that was compared, nothing was done') AS integer) AS place;
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- rows that are changed or deleted, as they are now
INSERT INTO "log_tally_was" SELECT * FROM "log"
WHERE ("words" IS NULL);
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE ("code" = 'A1');
INSERT INTO "reading_tally_was" SELECT * FROM "reading"
WHERE ("id" = BIGINT '-9223372036854775808');
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE ("code" = 'C2')
   OR ("code" = 'C1');

-- log: deletes
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: log') AS integer) AS guard FROM (SELECT count(*) AS found FROM "log" WHERE "words" IS NULL);
DELETE FROM "log" WHERE "words" IS NULL AND 1 = (SELECT count(*) FROM "log" WHERE "words" IS NULL);

-- log: inserts
INSERT INTO "log" ("words") VALUES
  ('calm'),
  ('calm');

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);

-- station: references within the table, now that all its rows are there
SELECT CAST(IF(found = 2, '1', 'a row had changed; what this script did before it stays done: station, 2 rows from code B1 on') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE ("code" = 'B1' AND "lead" IS NULL)
   OR ("code" = 'B2' AND "lead" IS NULL));
UPDATE "station" SET
  "lead" = CASE
    WHEN "code" = 'B1' THEN 'B2'
    WHEN "code" = 'B2' THEN 'B2' END
WHERE ("code" = 'B1' AND "lead" IS NULL)
   OR ("code" = 'B2' AND "lead" IS NULL);

-- station: updates
-- na"me was NULL
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code A1') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1');
UPDATE "station" SET "na""me" = U&'it''s a \\ and\000Aa line' WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1';

-- reading: updates
-- pressure was DOUBLE '1.0E300', good was NULL
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: reading, id -9223372036854775808') AS integer) AS guard FROM (SELECT count(*) AS found FROM "reading" WHERE "id" = BIGINT '-9223372036854775808' AND to_ieee754_64("pressure") = to_ieee754_64(DOUBLE '1.0E300') AND "good" IS NULL AND "station" = 'A1' AND "level" = DECIMAL '1.500' AND "on_day" IS NULL);
UPDATE "reading" SET "pressure" = DOUBLE '4.9E-324', "good" = FALSE WHERE "id" = BIGINT '-9223372036854775808' AND to_ieee754_64("pressure") = to_ieee754_64(DOUBLE '1.0E300') AND "good" IS NULL AND "station" = 'A1' AND "level" = DECIMAL '1.500' AND "on_day" IS NULL;

-- reading: inserts
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (BIGINT '7', 'B1', DECIMAL '-1.250', DOUBLE '0.1', TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP '2026-10-25 01:30:00 UTC', X'00ff', UUID '00000000-0000-0001-0000-000000000002', TRUE);

-- station: references within the table that would keep rows from being deleted
-- lead was 'C2'
SELECT CAST(IF(found = 1, '1', 'a row had changed; what this script did before it stays done: station, code C1') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE "code" = 'C1' AND "lead" = 'C2');
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2';

-- station: deletes
SELECT CAST(IF(found = 2, '1', 'a row had changed; what this script did before it stays done: station, 2 rows from code C2 on') AS integer) AS guard FROM (SELECT count(*) AS found FROM "station" WHERE ("code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1')
   OR ("code" = 'C1' AND "na""me" = '' AND "lead" IS NULL));
DELETE FROM "station"
WHERE ("code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1')
   OR ("code" = 'C1' AND "na""me" = '' AND "lead" IS NULL);

SELECT '13 changes made and committed' AS result;

-- MEND
-- ScriptForm[style=batch, guarded=false, oldValues=true, forClient=false, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

CREATE TABLE IF NOT EXISTS "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
SELECT CAST(IF(current_catalog = 'archive', '1', 'not the database that was compared, nothing was done') AS integer) AS place;

-- rows that are changed or deleted, as they are now
INSERT INTO "log_tally_was" SELECT * FROM "log"
WHERE ("words" IS NULL);
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE ("code" = 'A1');
INSERT INTO "reading_tally_was" SELECT * FROM "reading"
WHERE ("id" = BIGINT '-9223372036854775808');
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE ("code" = 'C2')
   OR ("code" = 'C1');

-- log: deletes
DELETE FROM "log" WHERE "words" IS NULL AND 1 = (SELECT count(*) FROM "log" WHERE "words" IS NULL);

-- log: inserts
INSERT INTO "log" ("words") VALUES
  ('calm'),
  ('calm');

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);

-- station: references within the table, now that all its rows are there
UPDATE "station" SET
  "lead" = CASE
    WHEN "code" = 'B1' THEN 'B2'
    WHEN "code" = 'B2' THEN 'B2' END
WHERE ("code" = 'B1')
   OR ("code" = 'B2');

-- station: updates
-- na"me was NULL
UPDATE "station" SET "na""me" = U&'it''s a \\ and\000Aa line' WHERE "code" = 'A1';

-- reading: updates
-- pressure was DOUBLE '1.0E300', good was NULL
UPDATE "reading" SET "pressure" = DOUBLE '4.9E-324', "good" = FALSE WHERE "id" = BIGINT '-9223372036854775808';

-- reading: inserts
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (BIGINT '7', 'B1', DECIMAL '-1.250', DOUBLE '0.1', TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP '2026-10-25 01:30:00 UTC', X'00ff', UUID '00000000-0000-0001-0000-000000000002', TRUE);

-- station: references within the table that would keep rows from being deleted
-- lead was 'C2'
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1';

-- station: deletes
DELETE FROM "station"
WHERE ("code" = 'C2')
   OR ("code" = 'C1');

