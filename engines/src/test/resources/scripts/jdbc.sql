-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

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
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

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
-- ScriptForm[style=merge, guarded=true, oldValues=true, forClient=true, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

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
SELECT s."words" FROM sharp_tally_rows_1 s;
-- these must have touched 2 rows
DROP TABLE sharp_tally_rows_1;

-- station: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_2 AS (SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
INSERT INTO "station" ("code", "na""me", "lead")
SELECT s."code", s."na""me", s."lead" FROM sharp_tally_rows_2 s;
-- these must have touched 2 rows
DROP TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_3 AS (SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', NULL, 'B2'),
  ('B2', NULL, 'B2');
MERGE INTO "station" USING sharp_tally_rows_3 s
  ON ("station"."code" = s."code" AND ("station"."lead" = s."lead_was" OR ("station"."lead" IS NULL AND s."lead_was" IS NULL)))
WHEN MATCHED THEN UPDATE SET "lead" = s."lead_new";
-- these must have touched 2 rows
DROP TABLE sharp_tally_rows_3;

-- station: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_4 AS (SELECT "code" AS "code", "na""me" AS "na""me_was", "lead" AS "lead_was", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', NULL, 'A1', 'it''s a \ and
a line');
MERGE INTO "station" USING sharp_tally_rows_4 s
  ON ("station"."code" = s."code" AND ("station"."na""me" = s."na""me_was" OR ("station"."na""me" IS NULL AND s."na""me_was" IS NULL)) AND ("station"."lead" = s."lead_was" OR ("station"."lead" IS NULL AND s."lead_was" IS NULL)))
WHEN MATCHED THEN UPDATE SET "na""me" = s."na""me_new";
-- these must have touched 1 rows
DROP TABLE sharp_tally_rows_4;

-- reading: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_5 AS (SELECT "id" AS "id", "pressure" AS "pressure_was", "good" AS "good_was", "station" AS "station_was", "level" AS "level_was", "on_day" AS "on_day_was", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, 1.0E300, NULL, 'A1', 1.500, NULL, 4.9E-324, FALSE);
MERGE INTO "reading" USING sharp_tally_rows_5 s
  ON ("reading"."id" = s."id" AND ("reading"."pressure" = s."pressure_was" OR ("reading"."pressure" IS NULL AND s."pressure_was" IS NULL)) AND ("reading"."good" = s."good_was" OR ("reading"."good" IS NULL AND s."good_was" IS NULL)) AND ("reading"."station" = s."station_was" OR ("reading"."station" IS NULL AND s."station_was" IS NULL)) AND ("reading"."level" = s."level_was" OR ("reading"."level" IS NULL AND s."level_was" IS NULL)) AND ("reading"."on_day" = s."on_day_was" OR ("reading"."on_day" IS NULL AND s."on_day_was" IS NULL)))
WHEN MATCHED THEN UPDATE SET "pressure" = s."pressure_new", "good" = s."good_new";
-- these must have touched 1 rows
DROP TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_6 AS (SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, 0.1E0, TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP '2026-10-25 01:30:00+00:00', X'00ff', '00000000-0000-0001-0000-000000000002', TRUE);
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good")
SELECT s."id", s."station", s."level", s."pressure", s."taken", s."on_day", s."seen", s."raw", s."mark", s."good" FROM sharp_tally_rows_6 s;
-- these must have touched 1 rows
DROP TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_7 AS (SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', 'C2', NULL);
MERGE INTO "station" USING sharp_tally_rows_7 s
  ON ("station"."code" = s."code" AND ("station"."lead" = s."lead_was" OR ("station"."lead" IS NULL AND s."lead_was" IS NULL)))
WHEN MATCHED THEN UPDATE SET "lead" = s."lead_new";
-- these must have touched 1 rows
DROP TABLE sharp_tally_rows_7;

-- station: deletes
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
-- these must have touched 1 rows
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL;
-- these must have touched 1 rows

COMMIT;

-- MEND
-- ScriptForm[style=merge, guarded=false, oldValues=true, forClient=false, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

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
SELECT s."words" FROM sharp_tally_rows_1 s;
DROP TABLE sharp_tally_rows_1;

-- station: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_2 AS (SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
MERGE INTO "station" USING sharp_tally_rows_2 s
  ON (("station"."code" = s."code" OR ("station"."code" IS NULL AND s."code" IS NULL)))
WHEN MATCHED THEN UPDATE SET "na""me" = s."na""me", "lead" = s."lead"
WHEN NOT MATCHED THEN INSERT ("code", "na""me", "lead") VALUES (s."code", s."na""me", s."lead");
DROP TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_3 AS (SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', 'B2'),
  ('B2', 'B2');
MERGE INTO "station" USING sharp_tally_rows_3 s
  ON ("station"."code" = s."code")
WHEN MATCHED THEN UPDATE SET "lead" = s."lead_new";
DROP TABLE sharp_tally_rows_3;

-- station: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_4 AS (SELECT "code" AS "code", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', 'it''s a \ and
a line');
MERGE INTO "station" USING sharp_tally_rows_4 s
  ON ("station"."code" = s."code")
WHEN MATCHED THEN UPDATE SET "na""me" = s."na""me_new";
DROP TABLE sharp_tally_rows_4;

-- reading: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_5 AS (SELECT "id" AS "id", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, 4.9E-324, FALSE);
MERGE INTO "reading" USING sharp_tally_rows_5 s
  ON ("reading"."id" = s."id")
WHEN MATCHED THEN UPDATE SET "pressure" = s."pressure_new", "good" = s."good_new";
DROP TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_6 AS (SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, 0.1E0, TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP '2026-10-25 01:30:00+00:00', X'00ff', '00000000-0000-0001-0000-000000000002', TRUE);
MERGE INTO "reading" USING sharp_tally_rows_6 s
  ON (("reading"."id" = s."id" OR ("reading"."id" IS NULL AND s."id" IS NULL)))
WHEN MATCHED THEN UPDATE SET "station" = s."station", "level" = s."level", "pressure" = s."pressure", "taken" = s."taken", "on_day" = s."on_day", "seen" = s."seen", "raw" = s."raw", "mark" = s."mark", "good" = s."good"
WHEN NOT MATCHED THEN INSERT ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (s."id", s."station", s."level", s."pressure", s."taken", s."on_day", s."seen", s."raw", s."mark", s."good");
DROP TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_7 AS (SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0) WITH DATA;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', NULL);
MERGE INTO "station" USING sharp_tally_rows_7 s
  ON ("station"."code" = s."code")
WHEN MATCHED THEN UPDATE SET "lead" = s."lead_new";
DROP TABLE sharp_tally_rows_7;

-- station: deletes
DELETE FROM "station" WHERE "code" = 'C2';
DELETE FROM "station" WHERE "code" = 'C1';

COMMIT;
