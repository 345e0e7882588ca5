-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

.bail on
SET TimeZone = 'UTC';
BEGIN TRANSACTION;
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- was all of it done before?
CREATE TEMP TABLE sharp_tally_made (made bigint);
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "station" WHERE ("code" = 'A1' AND "na""me" = ('it''s a \ and' || chr(10) || 'a line'))
   OR ("code" = 'B1' AND "na""me" = '名' AND "lead" = 'B2')
   OR ("code" = 'B2' AND "na""me" IS NULL AND "lead" = 'B2'));
INSERT INTO sharp_tally_made SELECT 2 - (SELECT COUNT(*) FROM "station" WHERE ("code" = 'C1')
   OR ("code" = 'C2'));
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "reading" WHERE ("id" = 7 AND "station" = 'B1' AND "level" = CAST('-1.250' AS decimal(7,3)) AND "pressure" = CAST('0.1' AS DOUBLE) AND "taken" = CAST('2026-03-29 02:30:00.001' AS timestamp) AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMPTZ '2026-10-25 01:30:00+00' AND "raw" = unhex('00ff') AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE)
   OR ("id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE) AND "good" = FALSE AND CASE WHEN "pressure" = CAST('1.0E300' AS DOUBLE) AND "good" IS NULL THEN 1 ELSE 0 END = 0));
SELECT CASE WHEN sum(made) NOT IN (0, 10) THEN error(sum(made) || ' of 10 rows: some rows are as this would make them, so nothing was done') END FROM sharp_tally_made;
CREATE TEMP TABLE sharp_tally_go (made bigint, rows bigint, go int);
INSERT INTO sharp_tally_go SELECT sum(made), 10, CASE WHEN sum(made) = 10 THEN 0 ELSE 1 END FROM sharp_tally_made;

-- log: deletes
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "log" WHERE "words" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: log') END;
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" IS NULL AND (SELECT go FROM sharp_tally_go) = 1 LIMIT 1);

-- log: inserts
INSERT INTO "log" ("words") SELECT 'calm' WHERE (SELECT go FROM sharp_tally_go) = 1;
INSERT INTO "log" ("words") SELECT 'calm' WHERE (SELECT go FROM sharp_tally_go) = 1;

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") SELECT 'B1', '名', NULL WHERE (SELECT go FROM sharp_tally_go) = 1;
INSERT INTO "station" ("code", "na""me", "lead") SELECT 'B2', NULL, NULL WHERE (SELECT go FROM sharp_tally_go) = 1;

-- station: references within the table, now that all its rows are there
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B1' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: station, code B1') END;
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL;
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B2' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: station, code B2') END;
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL;

-- station: updates
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1') THEN error('a row had changed since it was compared, so nothing was done: station, code A1') END;
UPDATE "station" SET "na""me" = ('it''s a \ and' || chr(10) || 'a line') WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1';

-- reading: updates
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "reading" WHERE "id" = -9223372036854775808 AND "pressure" = CAST('1.0E300' AS DOUBLE) AND "good" IS NULL AND "station" = 'A1' AND "level" = CAST('1.500' AS decimal(7,3)) AND "on_day" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808') END;
UPDATE "reading" SET "pressure" = CAST('4.9E-324' AS DOUBLE), "good" = FALSE WHERE "id" = -9223372036854775808 AND "pressure" = CAST('1.0E300' AS DOUBLE) AND "good" IS NULL AND "station" = 'A1' AND "level" = CAST('1.500' AS decimal(7,3)) AND "on_day" IS NULL;

-- reading: inserts
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") SELECT 7, 'B1', CAST('-1.250' AS decimal(7,3)), CAST('0.1' AS DOUBLE), CAST('2026-03-29 02:30:00.001' AS timestamp), DATE '2024-02-29', TIMESTAMPTZ '2026-10-25 01:30:00+00', unhex('00ff'), UUID '00000000-0000-0001-0000-000000000002', TRUE WHERE (SELECT go FROM sharp_tally_go) = 1;

-- station: references within the table that would keep rows from being deleted
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'C1' AND "lead" = 'C2') THEN error('a row had changed since it was compared, so nothing was done: station, code C1') END;
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2';

-- station: deletes
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1') THEN error('a row had changed since it was compared, so nothing was done: station, code C2') END;
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: station, code C1') END;
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL;

COMMIT;
SELECT CASE go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM sharp_tally_go;
DROP TABLE sharp_tally_made;
DROP TABLE sharp_tally_go;

-- UNDO
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

.bail on
SET TimeZone = 'UTC';
BEGIN TRANSACTION;
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- was all of it done before?
CREATE TEMP TABLE sharp_tally_made (made bigint);
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "station" WHERE ("code" = 'A1' AND "na""me" IS NULL)
   OR ("code" = 'C1' AND "na""me" = '' AND "lead" = 'C2')
   OR ("code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1'));
INSERT INTO sharp_tally_made SELECT 2 - (SELECT COUNT(*) FROM "station" WHERE ("code" = 'B1')
   OR ("code" = 'B2'));
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "reading" WHERE "id" = -9223372036854775808 AND "pressure" = CAST('1.0E300' AS DOUBLE) AND "good" IS NULL AND CASE WHEN "pressure" = CAST('4.9E-324' AS DOUBLE) AND "good" = FALSE THEN 1 ELSE 0 END = 0);
INSERT INTO sharp_tally_made SELECT 1 - (SELECT COUNT(*) FROM "reading" WHERE "id" = 7);
SELECT CASE WHEN sum(made) NOT IN (0, 10) THEN error(sum(made) || ' of 10 rows: some rows are as this would make them, so nothing was done') END FROM sharp_tally_made;
CREATE TEMP TABLE sharp_tally_go (made bigint, rows bigint, go int);
INSERT INTO sharp_tally_go SELECT sum(made), 10, CASE WHEN sum(made) = 10 THEN 0 ELSE 1 END FROM sharp_tally_made;

-- log: deletes
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "log" WHERE "words" = 'calm') THEN error('a row had changed since it was compared, so nothing was done: log') END;
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" = 'calm' AND (SELECT go FROM sharp_tally_go) = 1 LIMIT 1);
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "log" WHERE "words" = 'calm') THEN error('a row had changed since it was compared, so nothing was done: log') END;
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" = 'calm' AND (SELECT go FROM sharp_tally_go) = 1 LIMIT 1);

-- log: inserts
INSERT INTO "log" ("words") SELECT NULL WHERE (SELECT go FROM sharp_tally_go) = 1;

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") SELECT 'C1', '', NULL WHERE (SELECT go FROM sharp_tally_go) = 1;
INSERT INTO "station" ("code", "na""me", "lead") SELECT 'C2', ' ', 'C1' WHERE (SELECT go FROM sharp_tally_go) = 1;

-- station: references within the table, now that all its rows are there
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'C1' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: station, code C1') END;
UPDATE "station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL;

-- station: updates
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'A1' AND "na""me" = ('it''s a \ and' || chr(10) || 'a line') AND "lead" = 'A1') THEN error('a row had changed since it was compared, so nothing was done: station, code A1') END;
UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = ('it''s a \ and' || chr(10) || 'a line') AND "lead" = 'A1';

-- reading: deletes
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = CAST('-1.250' AS decimal(7,3)) AND "pressure" = CAST('0.1' AS DOUBLE) AND "taken" = CAST('2026-03-29 02:30:00.001' AS timestamp) AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMPTZ '2026-10-25 01:30:00+00' AND "raw" = unhex('00ff') AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE) THEN error('a row had changed since it was compared, so nothing was done: reading, id 7') END;
DELETE FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = CAST('-1.250' AS decimal(7,3)) AND "pressure" = CAST('0.1' AS DOUBLE) AND "taken" = CAST('2026-03-29 02:30:00.001' AS timestamp) AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMPTZ '2026-10-25 01:30:00+00' AND "raw" = unhex('00ff') AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE;

-- reading: updates
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "reading" WHERE "id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE) AND "good" = FALSE AND "station" = 'A1' AND "level" = CAST('1.500' AS decimal(7,3)) AND "on_day" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808') END;
UPDATE "reading" SET "pressure" = CAST('1.0E300' AS DOUBLE), "good" = NULL WHERE "id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE) AND "good" = FALSE AND "station" = 'A1' AND "level" = CAST('1.500' AS decimal(7,3)) AND "on_day" IS NULL;

-- station: references within the table that would keep rows from being deleted
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B1' AND "lead" = 'B2') THEN error('a row had changed since it was compared, so nothing was done: station, code B1') END;
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2';
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B2' AND "lead" = 'B2') THEN error('a row had changed since it was compared, so nothing was done: station, code B2') END;
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2';

-- station: deletes
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: station, code B2') END;
DELETE FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL;
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: station, code B1') END;
DELETE FROM "station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL;

COMMIT;
SELECT CASE go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM sharp_tally_go;
DROP TABLE sharp_tally_made;
DROP TABLE sharp_tally_go;

-- MEND
-- ScriptForm[style=merge, guarded=true, oldValues=true, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

.bail on
CREATE TABLE IF NOT EXISTS "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
SET TimeZone = 'UTC';
BEGIN TRANSACTION;
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- was all of it done before?
CREATE TEMP TABLE sharp_tally_made (made bigint);
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "station" WHERE ("code" = 'A1' AND "na""me" = ('it''s a \ and' || chr(10) || 'a line'))
   OR ("code" = 'B1' AND "na""me" = '名' AND "lead" = 'B2')
   OR ("code" = 'B2' AND "na""me" IS NULL AND "lead" = 'B2'));
INSERT INTO sharp_tally_made SELECT 2 - (SELECT COUNT(*) FROM "station" WHERE ("code" = 'C1')
   OR ("code" = 'C2'));
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "reading" WHERE ("id" = 7 AND "station" = 'B1' AND "level" = CAST('-1.250' AS decimal(7,3)) AND "pressure" = CAST('0.1' AS DOUBLE) AND "taken" = CAST('2026-03-29 02:30:00.001' AS timestamp) AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMPTZ '2026-10-25 01:30:00+00' AND "raw" = unhex('00ff') AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE)
   OR ("id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE) AND "good" = FALSE AND CASE WHEN "pressure" = CAST('1.0E300' AS DOUBLE) AND "good" IS NULL THEN 1 ELSE 0 END = 0));
SELECT CASE WHEN sum(made) NOT IN (0, 10) THEN error(sum(made) || ' of 10 rows: some rows are as this would make them, so nothing was done') END FROM sharp_tally_made;
CREATE TEMP TABLE sharp_tally_go (made bigint, rows bigint, go int);
INSERT INTO sharp_tally_go SELECT sum(made), 10, CASE WHEN sum(made) = 10 THEN 0 ELSE 1 END FROM sharp_tally_made;

-- rows that are changed or deleted, as they are now
INSERT INTO "log_tally_was" SELECT * FROM "log"
WHERE (SELECT go FROM sharp_tally_go) = 1 AND (("words" IS NULL));
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE (SELECT go FROM sharp_tally_go) = 1 AND (("code" = 'A1'));
INSERT INTO "reading_tally_was" SELECT * FROM "reading"
WHERE (SELECT go FROM sharp_tally_go) = 1 AND (("id" = -9223372036854775808));
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE (SELECT go FROM sharp_tally_go) = 1 AND (("code" = 'C2')
   OR ("code" = 'C1'));

-- log: deletes
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "log" WHERE "words" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: log') END;
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" IS NULL AND (SELECT go FROM sharp_tally_go) = 1 LIMIT 1);

-- log: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_1 AS SELECT "words" AS "words" FROM "log" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
INSERT INTO "log" ("words")
SELECT sharp_tally."words" FROM sharp_tally_rows_1 sharp_tally
WHERE (SELECT go FROM sharp_tally_go) = 1;
DROP TABLE sharp_tally_rows_1;

-- station: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_2 AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
INSERT INTO "station" ("code", "na""me", "lead")
SELECT sharp_tally."code", sharp_tally."na""me", sharp_tally."lead" FROM sharp_tally_rows_2 sharp_tally
WHERE (SELECT go FROM sharp_tally_go) = 1;
DROP TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE TEMPORARY TABLE sharp_tally_rows_3 AS SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', NULL, 'B2'),
  ('B2', NULL, 'B2');
SELECT CASE WHEN 2 * (SELECT go FROM sharp_tally_go) <> (SELECT COUNT(*) FROM "station" WHERE EXISTS (SELECT 1 FROM sharp_tally_rows_3 sharp_tally WHERE "station"."code" = sharp_tally."code" AND "station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was")) THEN error('a row had changed since it was compared, so nothing was done: station, 2 rows from code B1 on') END;
UPDATE "station"
SET "lead" = sharp_tally."lead_new"
FROM sharp_tally_rows_3 sharp_tally
WHERE "station"."code" = sharp_tally."code" AND "station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was";
DROP TABLE sharp_tally_rows_3;

-- station: updates
CREATE TEMPORARY TABLE sharp_tally_rows_4 AS SELECT "code" AS "code", "na""me" AS "na""me_was", "lead" AS "lead_was", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', NULL, 'A1', ('it''s a \ and' || chr(10) || 'a line'));
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) <> (SELECT COUNT(*) FROM "station" WHERE EXISTS (SELECT 1 FROM sharp_tally_rows_4 sharp_tally WHERE "station"."code" = sharp_tally."code" AND "station"."na""me" IS NOT DISTINCT FROM sharp_tally."na""me_was" AND "station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was")) THEN error('a row had changed since it was compared, so nothing was done: station, code A1') END;
UPDATE "station"
SET "na""me" = sharp_tally."na""me_new"
FROM sharp_tally_rows_4 sharp_tally
WHERE "station"."code" = sharp_tally."code" AND "station"."na""me" IS NOT DISTINCT FROM sharp_tally."na""me_was" AND "station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was";
DROP TABLE sharp_tally_rows_4;

-- reading: updates
CREATE TEMPORARY TABLE sharp_tally_rows_5 AS SELECT "id" AS "id", "pressure" AS "pressure_was", "good" AS "good_was", "station" AS "station_was", "level" AS "level_was", "on_day" AS "on_day_was", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, CAST('1.0E300' AS DOUBLE), NULL, 'A1', CAST('1.500' AS decimal(7,3)), NULL, CAST('4.9E-324' AS DOUBLE), FALSE);
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) <> (SELECT COUNT(*) FROM "reading" WHERE EXISTS (SELECT 1 FROM sharp_tally_rows_5 sharp_tally WHERE "reading"."id" = sharp_tally."id" AND "reading"."pressure" IS NOT DISTINCT FROM sharp_tally."pressure_was" AND "reading"."good" IS NOT DISTINCT FROM sharp_tally."good_was" AND "reading"."station" IS NOT DISTINCT FROM sharp_tally."station_was" AND "reading"."level" IS NOT DISTINCT FROM sharp_tally."level_was" AND "reading"."on_day" IS NOT DISTINCT FROM sharp_tally."on_day_was")) THEN error('a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808') END;
UPDATE "reading"
SET "pressure" = sharp_tally."pressure_new", "good" = sharp_tally."good_new"
FROM sharp_tally_rows_5 sharp_tally
WHERE "reading"."id" = sharp_tally."id" AND "reading"."pressure" IS NOT DISTINCT FROM sharp_tally."pressure_was" AND "reading"."good" IS NOT DISTINCT FROM sharp_tally."good_was" AND "reading"."station" IS NOT DISTINCT FROM sharp_tally."station_was" AND "reading"."level" IS NOT DISTINCT FROM sharp_tally."level_was" AND "reading"."on_day" IS NOT DISTINCT FROM sharp_tally."on_day_was";
DROP TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_6 AS SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', CAST('-1.250' AS decimal(7,3)), CAST('0.1' AS DOUBLE), CAST('2026-03-29 02:30:00.001' AS timestamp), DATE '2024-02-29', TIMESTAMPTZ '2026-10-25 01:30:00+00', unhex('00ff'), UUID '00000000-0000-0001-0000-000000000002', TRUE);
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good")
SELECT sharp_tally."id", sharp_tally."station", sharp_tally."level", sharp_tally."pressure", sharp_tally."taken", sharp_tally."on_day", sharp_tally."seen", sharp_tally."raw", sharp_tally."mark", sharp_tally."good" FROM sharp_tally_rows_6 sharp_tally
WHERE (SELECT go FROM sharp_tally_go) = 1;
DROP TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE TEMPORARY TABLE sharp_tally_rows_7 AS SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', 'C2', NULL);
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) <> (SELECT COUNT(*) FROM "station" WHERE EXISTS (SELECT 1 FROM sharp_tally_rows_7 sharp_tally WHERE "station"."code" = sharp_tally."code" AND "station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was")) THEN error('a row had changed since it was compared, so nothing was done: station, code C1') END;
UPDATE "station"
SET "lead" = sharp_tally."lead_new"
FROM sharp_tally_rows_7 sharp_tally
WHERE "station"."code" = sharp_tally."code" AND "station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was";
DROP TABLE sharp_tally_rows_7;

-- station: deletes
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1') THEN error('a row had changed since it was compared, so nothing was done: station, code C2') END;
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
SELECT CASE WHEN (SELECT go FROM sharp_tally_go) = 1 AND NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done: station, code C1') END;
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL;

COMMIT;
SELECT CASE go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM sharp_tally_go;
DROP TABLE sharp_tally_made;
DROP TABLE sharp_tally_go;

-- MEND
-- ScriptForm[style=merge, guarded=false, oldValues=true, forClient=false, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

CREATE TABLE IF NOT EXISTS "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
SET TimeZone = 'UTC';
BEGIN TRANSACTION;

-- rows that are changed or deleted, as they are now
INSERT INTO "log_tally_was" SELECT * FROM "log"
WHERE ("words" IS NULL);
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE ("code" = 'A1');
INSERT INTO "reading_tally_was" SELECT * FROM "reading"
WHERE ("id" = -9223372036854775808);
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE ("code" = 'C2')
   OR ("code" = 'C1');

-- log: deletes
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" IS NULL LIMIT 1);

-- log: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_1 AS SELECT "words" AS "words" FROM "log" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
INSERT INTO "log" ("words")
SELECT sharp_tally."words" FROM sharp_tally_rows_1 sharp_tally;
DROP TABLE sharp_tally_rows_1;

-- station: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_2 AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
INSERT INTO "station" ("code", "na""me", "lead")
SELECT sharp_tally."code", sharp_tally."na""me", sharp_tally."lead" FROM sharp_tally_rows_2 sharp_tally WHERE 1 = 1
ON CONFLICT ("code") DO UPDATE SET "na""me" = excluded."na""me", "lead" = excluded."lead";
DROP TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE TEMPORARY TABLE sharp_tally_rows_3 AS SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', 'B2'),
  ('B2', 'B2');
UPDATE "station"
SET "lead" = sharp_tally."lead_new"
FROM sharp_tally_rows_3 sharp_tally
WHERE "station"."code" = sharp_tally."code";
DROP TABLE sharp_tally_rows_3;

-- station: updates
CREATE TEMPORARY TABLE sharp_tally_rows_4 AS SELECT "code" AS "code", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', ('it''s a \ and' || chr(10) || 'a line'));
UPDATE "station"
SET "na""me" = sharp_tally."na""me_new"
FROM sharp_tally_rows_4 sharp_tally
WHERE "station"."code" = sharp_tally."code";
DROP TABLE sharp_tally_rows_4;

-- reading: updates
CREATE TEMPORARY TABLE sharp_tally_rows_5 AS SELECT "id" AS "id", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, CAST('4.9E-324' AS DOUBLE), FALSE);
UPDATE "reading"
SET "pressure" = sharp_tally."pressure_new", "good" = sharp_tally."good_new"
FROM sharp_tally_rows_5 sharp_tally
WHERE "reading"."id" = sharp_tally."id";
DROP TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_6 AS SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', CAST('-1.250' AS decimal(7,3)), CAST('0.1' AS DOUBLE), CAST('2026-03-29 02:30:00.001' AS timestamp), DATE '2024-02-29', TIMESTAMPTZ '2026-10-25 01:30:00+00', unhex('00ff'), UUID '00000000-0000-0001-0000-000000000002', TRUE);
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good")
SELECT sharp_tally."id", sharp_tally."station", sharp_tally."level", sharp_tally."pressure", sharp_tally."taken", sharp_tally."on_day", sharp_tally."seen", sharp_tally."raw", sharp_tally."mark", sharp_tally."good" FROM sharp_tally_rows_6 sharp_tally WHERE 1 = 1
ON CONFLICT ("id") DO UPDATE SET "station" = excluded."station", "level" = excluded."level", "pressure" = excluded."pressure", "taken" = excluded."taken", "on_day" = excluded."on_day", "seen" = excluded."seen", "raw" = excluded."raw", "mark" = excluded."mark", "good" = excluded."good";
DROP TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE TEMPORARY TABLE sharp_tally_rows_7 AS SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', NULL);
UPDATE "station"
SET "lead" = sharp_tally."lead_new"
FROM sharp_tally_rows_7 sharp_tally
WHERE "station"."code" = sharp_tally."code";
DROP TABLE sharp_tally_rows_7;

-- station: deletes
DELETE FROM "station" WHERE "code" = 'C2';
DELETE FROM "station" WHERE "code" = 'C1';

COMMIT;
