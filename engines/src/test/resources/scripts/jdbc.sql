-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

-- Run this with auto-commit off.
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- log: deletes
DELETE FROM "log" WHERE "words" IS NULL AND 1 = (SELECT COUNT(*) FROM "log" WHERE "words" IS NULL);
-- these must have touched 1 rows

-- log: inserts
INSERT INTO "log" ("words") VALUES ('calm');
INSERT INTO "log" ("words") VALUES ('calm');
-- these must have touched 2 rows

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B1', '名', NULL);
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B2', NULL, NULL);
-- these must have touched 2 rows

-- station: references within the table, now that all its rows are there
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL;
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL;
-- these must have touched 2 rows

-- station: updates
UPDATE "station" SET "na""me" = 'it''s a \ and
a line' WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1';
-- these must have touched 1 rows

-- reading: updates
UPDATE "reading" SET "pressure" = 4.9E-324, "good" = FALSE WHERE "id" = -9223372036854775808 AND "pressure" = 1.0E300 AND "good" IS NULL AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL;
-- these must have touched 1 rows

-- reading: inserts
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (7, 'B1', -1.250, 0.1E0, TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP '2026-10-25 01:30:00+00:00', X'00ff', '00000000-0000-0001-0000-000000000002', TRUE);
-- these must have touched 1 rows

-- station: references within the table that would keep rows from being deleted
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2';
-- these must have touched 1 rows

-- station: deletes
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL;
-- these must have touched 2 rows

COMMIT;

-- UNDO
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

-- Run this with auto-commit off.
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- log: deletes
DELETE FROM "log" WHERE "words" = 'calm' AND 1 = (SELECT COUNT(*) FROM "log" WHERE "words" = 'calm');
DELETE FROM "log" WHERE "words" = 'calm' AND 1 = (SELECT COUNT(*) FROM "log" WHERE "words" = 'calm');
-- these must have touched 2 rows

-- log: inserts
INSERT INTO "log" ("words") VALUES (NULL);
-- these must have touched 1 rows

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C1', '', NULL);
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C2', ' ', 'C1');
-- these must have touched 2 rows

-- station: references within the table, now that all its rows are there
UPDATE "station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL;
-- these must have touched 1 rows

-- station: updates
UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = 'it''s a \ and
a line' AND "lead" = 'A1';
-- these must have touched 1 rows

-- reading: deletes
DELETE FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = 0.1E0 AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMP '2026-10-25 01:30:00+00:00' AND "raw" = X'00ff' AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = TRUE;
-- these must have touched 1 rows

-- reading: updates
UPDATE "reading" SET "pressure" = 1.0E300, "good" = NULL WHERE "id" = -9223372036854775808 AND "pressure" = 4.9E-324 AND "good" = FALSE AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL;
-- these must have touched 1 rows

-- station: references within the table that would keep rows from being deleted
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2';
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2';
-- these must have touched 2 rows

-- station: deletes
DELETE FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL;
DELETE FROM "station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL;
-- these must have touched 2 rows

COMMIT;

-- MEND
-- ScriptForm[style=merge, guarded=true, oldValues=true, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

CREATE TABLE IF NOT EXISTS "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
-- Run this with auto-commit off.
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

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
DELETE FROM "log" WHERE "words" IS NULL AND 1 = (SELECT COUNT(*) FROM "log" WHERE "words" IS NULL);
-- these must have touched 1 rows

-- log: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_1 AS (SELECT "words" AS "words" FROM "log" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
INSERT INTO "log" ("words")
SELECT sharp_tally."words" FROM sharp_tally_rows_1 sharp_tally;
-- these must have touched 2 rows
DROP TABLE sharp_tally_rows_1;

-- station: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_2 AS (SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
INSERT INTO "station" ("code", "na""me", "lead")
SELECT sharp_tally."code", sharp_tally."na""me", sharp_tally."lead" FROM sharp_tally_rows_2 sharp_tally;
-- these must have touched 2 rows
DROP TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_3 AS (SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', NULL, 'B2'),
  ('B2', NULL, 'B2');
MERGE INTO "station" USING sharp_tally_rows_3 sharp_tally
  ON ("station"."code" = sharp_tally."code" AND ("station"."lead" = sharp_tally."lead_was" OR ("station"."lead" IS NULL AND sharp_tally."lead_was" IS NULL)))
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new";
-- these must have touched 2 rows
DROP TABLE sharp_tally_rows_3;

-- station: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_4 AS (SELECT "code" AS "code", "na""me" AS "na""me_was", "lead" AS "lead_was", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', NULL, 'A1', 'it''s a \ and
a line');
MERGE INTO "station" USING sharp_tally_rows_4 sharp_tally
  ON ("station"."code" = sharp_tally."code" AND ("station"."na""me" = sharp_tally."na""me_was" OR ("station"."na""me" IS NULL AND sharp_tally."na""me_was" IS NULL)) AND ("station"."lead" = sharp_tally."lead_was" OR ("station"."lead" IS NULL AND sharp_tally."lead_was" IS NULL)))
WHEN MATCHED THEN UPDATE SET "na""me" = sharp_tally."na""me_new";
-- these must have touched 1 rows
DROP TABLE sharp_tally_rows_4;

-- reading: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_5 AS (SELECT "id" AS "id", "pressure" AS "pressure_was", "good" AS "good_was", "station" AS "station_was", "level" AS "level_was", "on_day" AS "on_day_was", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, 1.0E300, NULL, 'A1', 1.500, NULL, 4.9E-324, FALSE);
MERGE INTO "reading" USING sharp_tally_rows_5 sharp_tally
  ON ("reading"."id" = sharp_tally."id" AND ("reading"."pressure" = sharp_tally."pressure_was" OR ("reading"."pressure" IS NULL AND sharp_tally."pressure_was" IS NULL)) AND ("reading"."good" = sharp_tally."good_was" OR ("reading"."good" IS NULL AND sharp_tally."good_was" IS NULL)) AND ("reading"."station" = sharp_tally."station_was" OR ("reading"."station" IS NULL AND sharp_tally."station_was" IS NULL)) AND ("reading"."level" = sharp_tally."level_was" OR ("reading"."level" IS NULL AND sharp_tally."level_was" IS NULL)) AND ("reading"."on_day" = sharp_tally."on_day_was" OR ("reading"."on_day" IS NULL AND sharp_tally."on_day_was" IS NULL)))
WHEN MATCHED THEN UPDATE SET "pressure" = sharp_tally."pressure_new", "good" = sharp_tally."good_new";
-- these must have touched 1 rows
DROP TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_6 AS (SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, 0.1E0, TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP '2026-10-25 01:30:00+00:00', X'00ff', '00000000-0000-0001-0000-000000000002', TRUE);
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good")
SELECT sharp_tally."id", sharp_tally."station", sharp_tally."level", sharp_tally."pressure", sharp_tally."taken", sharp_tally."on_day", sharp_tally."seen", sharp_tally."raw", sharp_tally."mark", sharp_tally."good" FROM sharp_tally_rows_6 sharp_tally;
-- these must have touched 1 rows
DROP TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_7 AS (SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', 'C2', NULL);
MERGE INTO "station" USING sharp_tally_rows_7 sharp_tally
  ON ("station"."code" = sharp_tally."code" AND ("station"."lead" = sharp_tally."lead_was" OR ("station"."lead" IS NULL AND sharp_tally."lead_was" IS NULL)))
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new";
-- these must have touched 1 rows
DROP TABLE sharp_tally_rows_7;

-- station: deletes
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
-- these must have touched 1 rows
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL;
-- these must have touched 1 rows

COMMIT;

-- MEND
-- ScriptForm[style=merge, guarded=false, oldValues=true, forClient=false, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

CREATE TABLE IF NOT EXISTS "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
-- Run this with auto-commit off.

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
DELETE FROM "log" WHERE "words" IS NULL AND 1 = (SELECT COUNT(*) FROM "log" WHERE "words" IS NULL);

-- log: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_1 AS (SELECT "words" AS "words" FROM "log" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
INSERT INTO "log" ("words")
SELECT sharp_tally."words" FROM sharp_tally_rows_1 sharp_tally;
DROP TABLE sharp_tally_rows_1;

-- station: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_2 AS (SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
MERGE INTO "station" USING sharp_tally_rows_2 sharp_tally
  ON (("station"."code" = sharp_tally."code" OR ("station"."code" IS NULL AND sharp_tally."code" IS NULL)))
WHEN MATCHED THEN UPDATE SET "na""me" = sharp_tally."na""me", "lead" = sharp_tally."lead"
WHEN NOT MATCHED THEN INSERT ("code", "na""me", "lead") VALUES (sharp_tally."code", sharp_tally."na""me", sharp_tally."lead");
DROP TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_3 AS (SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', 'B2'),
  ('B2', 'B2');
MERGE INTO "station" USING sharp_tally_rows_3 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new";
DROP TABLE sharp_tally_rows_3;

-- station: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_4 AS (SELECT "code" AS "code", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', 'it''s a \ and
a line');
MERGE INTO "station" USING sharp_tally_rows_4 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "na""me" = sharp_tally."na""me_new";
DROP TABLE sharp_tally_rows_4;

-- reading: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_5 AS (SELECT "id" AS "id", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, 4.9E-324, FALSE);
MERGE INTO "reading" USING sharp_tally_rows_5 sharp_tally
  ON ("reading"."id" = sharp_tally."id")
WHEN MATCHED THEN UPDATE SET "pressure" = sharp_tally."pressure_new", "good" = sharp_tally."good_new";
DROP TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_6 AS (SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, 0.1E0, TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP '2026-10-25 01:30:00+00:00', X'00ff', '00000000-0000-0001-0000-000000000002', TRUE);
MERGE INTO "reading" USING sharp_tally_rows_6 sharp_tally
  ON (("reading"."id" = sharp_tally."id" OR ("reading"."id" IS NULL AND sharp_tally."id" IS NULL)))
WHEN MATCHED THEN UPDATE SET "station" = sharp_tally."station", "level" = sharp_tally."level", "pressure" = sharp_tally."pressure", "taken" = sharp_tally."taken", "on_day" = sharp_tally."on_day", "seen" = sharp_tally."seen", "raw" = sharp_tally."raw", "mark" = sharp_tally."mark", "good" = sharp_tally."good"
WHEN NOT MATCHED THEN INSERT ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (sharp_tally."id", sharp_tally."station", sharp_tally."level", sharp_tally."pressure", sharp_tally."taken", sharp_tally."on_day", sharp_tally."seen", sharp_tally."raw", sharp_tally."mark", sharp_tally."good");
DROP TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_7 AS (SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', NULL);
MERGE INTO "station" USING sharp_tally_rows_7 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new";
DROP TABLE sharp_tally_rows_7;

-- station: deletes
DELETE FROM "station" WHERE "code" = 'C2';
DELETE FROM "station" WHERE "code" = 'C1';

COMMIT;
