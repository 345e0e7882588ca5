-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

SET AUTOCOMMIT FALSE;
-- @n counts the rows that are touched
SET @n = 0;
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- log: deletes
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" IS NULL FETCH FIRST ROW ONLY));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- log: inserts
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words") VALUES ('calm')));
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words") VALUES ('calm')));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- station: inserts
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B1', '名', NULL)));
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B2', NULL, NULL)));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- station: references within the table, now that all its rows are there
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL));
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- station: updates
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "na""me" = U&'it''s a \\ and\000aa line' WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1'));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- reading: updates
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "reading" SET "pressure" = CAST('4.9E-324' AS DOUBLE PRECISION), "good" = FALSE WHERE "id" = -9223372036854775808 AND "pressure" = CAST('1.0E300' AS DOUBLE PRECISION) AND "good" IS NULL AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- reading: inserts
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (7, 'B1', -1.250, CAST('0.1' AS DOUBLE PRECISION), TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00', X'00ff', UUID '00000000-0000-0001-0000-000000000002', TRUE)));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- station: references within the table that would keep rows from being deleted
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2'));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- station: deletes
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1'));
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

COMMIT;
SELECT '13 changes made and committed' AS result;

-- UNDO
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

SET AUTOCOMMIT FALSE;
-- @n counts the rows that are touched
SET @n = 0;
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- log: deletes
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" = 'calm' FETCH FIRST ROW ONLY));
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" = 'calm' FETCH FIRST ROW ONLY));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- log: inserts
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words") VALUES (NULL)));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- station: inserts
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C1', '', NULL)));
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C2', ' ', 'C1')));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- station: references within the table, now that all its rows are there
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- station: updates
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = U&'it''s a \\ and\000aa line' AND "lead" = 'A1'));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- reading: deletes
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = CAST('0.1' AS DOUBLE PRECISION) AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00' AND "raw" = X'00ff' AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- reading: updates
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "reading" SET "pressure" = CAST('1.0E300' AS DOUBLE PRECISION), "good" = NULL WHERE "id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE PRECISION) AND "good" = FALSE AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- station: references within the table that would keep rows from being deleted
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2'));
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2'));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- station: deletes
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL));
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

COMMIT;
SELECT '13 changes made and committed' AS result;

-- MEND
-- ScriptForm[style=merge, guarded=true, oldValues=true, forClient=true, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

SET LOCK_TIMEOUT 5000;
CREATE TABLE IF NOT EXISTS "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
SET AUTOCOMMIT FALSE;
-- @n counts the rows that are touched
SET @n = 0;
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
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" IS NULL FETCH FIRST ROW ONLY));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- log: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_1 TRANSACTIONAL AS SELECT "words" AS "words" FROM "log" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words")
SELECT s."words" FROM sharp_tally_rows_1 s));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;
DELETE FROM sharp_tally_rows_1;

-- station: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_2 TRANSACTIONAL AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "station" ("code", "na""me", "lead")
SELECT s."code", s."na""me", s."lead" FROM sharp_tally_rows_2 s));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;
DELETE FROM sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_3 TRANSACTIONAL AS SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', NULL, 'B2'),
  ('B2', NULL, 'B2');
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (MERGE INTO "station" USING sharp_tally_rows_3 s
  ON ("station"."code" = s."code" AND "station"."lead" IS NOT DISTINCT FROM s."lead_was")
WHEN MATCHED THEN UPDATE SET "lead" = s."lead_new"));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;
DELETE FROM sharp_tally_rows_3;

-- station: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_4 TRANSACTIONAL AS SELECT "code" AS "code", "na""me" AS "na""me_was", "lead" AS "lead_was", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', NULL, 'A1', U&'it''s a \\ and\000aa line');
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (MERGE INTO "station" USING sharp_tally_rows_4 s
  ON ("station"."code" = s."code" AND "station"."na""me" IS NOT DISTINCT FROM s."na""me_was" AND "station"."lead" IS NOT DISTINCT FROM s."lead_was")
WHEN MATCHED THEN UPDATE SET "na""me" = s."na""me_new"));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;
DELETE FROM sharp_tally_rows_4;

-- reading: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_5 TRANSACTIONAL AS SELECT "id" AS "id", "pressure" AS "pressure_was", "good" AS "good_was", "station" AS "station_was", "level" AS "level_was", "on_day" AS "on_day_was", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, CAST('1.0E300' AS DOUBLE PRECISION), NULL, 'A1', 1.500, NULL, CAST('4.9E-324' AS DOUBLE PRECISION), FALSE);
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (MERGE INTO "reading" USING sharp_tally_rows_5 s
  ON ("reading"."id" = s."id" AND "reading"."pressure" IS NOT DISTINCT FROM s."pressure_was" AND "reading"."good" IS NOT DISTINCT FROM s."good_was" AND "reading"."station" IS NOT DISTINCT FROM s."station_was" AND "reading"."level" IS NOT DISTINCT FROM s."level_was" AND "reading"."on_day" IS NOT DISTINCT FROM s."on_day_was")
WHEN MATCHED THEN UPDATE SET "pressure" = s."pressure_new", "good" = s."good_new"));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;
DELETE FROM sharp_tally_rows_5;

-- reading: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_6 TRANSACTIONAL AS SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, CAST('0.1' AS DOUBLE PRECISION), TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00', X'00ff', UUID '00000000-0000-0001-0000-000000000002', TRUE);
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good")
SELECT s."id", s."station", s."level", s."pressure", s."taken", s."on_day", s."seen", s."raw", s."mark", s."good" FROM sharp_tally_rows_6 s));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;
DELETE FROM sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_7 TRANSACTIONAL AS SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', 'C2', NULL);
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (MERGE INTO "station" USING sharp_tally_rows_7 s
  ON ("station"."code" = s."code" AND "station"."lead" IS NOT DISTINCT FROM s."lead_was")
WHEN MATCHED THEN UPDATE SET "lead" = s."lead_new"));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;
DELETE FROM sharp_tally_rows_7;

-- station: deletes
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1'));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

COMMIT;
SELECT '13 changes made and committed' AS result;

-- MEND
-- ScriptForm[style=merge, guarded=false, oldValues=true, forClient=false, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

SET LOCK_TIMEOUT 5000;
CREATE TABLE IF NOT EXISTS "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
SET AUTOCOMMIT FALSE;

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
DELETE FROM "log" WHERE "words" IS NULL FETCH FIRST ROW ONLY;

-- log: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_1 TRANSACTIONAL AS SELECT "words" AS "words" FROM "log" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
INSERT INTO "log" ("words")
SELECT s."words" FROM sharp_tally_rows_1 s;
DELETE FROM sharp_tally_rows_1;

-- station: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_2 TRANSACTIONAL AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
MERGE INTO "station" USING sharp_tally_rows_2 s
  ON ("station"."code" IS NOT DISTINCT FROM s."code")
WHEN MATCHED THEN UPDATE SET "na""me" = s."na""me", "lead" = s."lead"
WHEN NOT MATCHED THEN INSERT ("code", "na""me", "lead") VALUES (s."code", s."na""me", s."lead");
DELETE FROM sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_3 TRANSACTIONAL AS SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', 'B2'),
  ('B2', 'B2');
MERGE INTO "station" USING sharp_tally_rows_3 s
  ON ("station"."code" = s."code")
WHEN MATCHED THEN UPDATE SET "lead" = s."lead_new";
DELETE FROM sharp_tally_rows_3;

-- station: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_4 TRANSACTIONAL AS SELECT "code" AS "code", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', U&'it''s a \\ and\000aa line');
MERGE INTO "station" USING sharp_tally_rows_4 s
  ON ("station"."code" = s."code")
WHEN MATCHED THEN UPDATE SET "na""me" = s."na""me_new";
DELETE FROM sharp_tally_rows_4;

-- reading: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_5 TRANSACTIONAL AS SELECT "id" AS "id", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, CAST('4.9E-324' AS DOUBLE PRECISION), FALSE);
MERGE INTO "reading" USING sharp_tally_rows_5 s
  ON ("reading"."id" = s."id")
WHEN MATCHED THEN UPDATE SET "pressure" = s."pressure_new", "good" = s."good_new";
DELETE FROM sharp_tally_rows_5;

-- reading: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_6 TRANSACTIONAL AS SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, CAST('0.1' AS DOUBLE PRECISION), TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00', X'00ff', UUID '00000000-0000-0001-0000-000000000002', TRUE);
MERGE INTO "reading" USING sharp_tally_rows_6 s
  ON ("reading"."id" IS NOT DISTINCT FROM s."id")
WHEN MATCHED THEN UPDATE SET "station" = s."station", "level" = s."level", "pressure" = s."pressure", "taken" = s."taken", "on_day" = s."on_day", "seen" = s."seen", "raw" = s."raw", "mark" = s."mark", "good" = s."good"
WHEN NOT MATCHED THEN INSERT ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (s."id", s."station", s."level", s."pressure", s."taken", s."on_day", s."seen", s."raw", s."mark", s."good");
DELETE FROM sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_7 TRANSACTIONAL AS SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', NULL);
MERGE INTO "station" USING sharp_tally_rows_7 s
  ON ("station"."code" = s."code")
WHEN MATCHED THEN UPDATE SET "lead" = s."lead_new";
DELETE FROM sharp_tally_rows_7;

-- station: deletes
DELETE FROM "station" WHERE "code" = 'C2';
DELETE FROM "station" WHERE "code" = 'C1';

COMMIT;
