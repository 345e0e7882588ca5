-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

SET AUTOCOMMIT FALSE;
SET @stopped = 'a row had changed since it was compared, so nothing was done: ';
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- was all of it done before?
SET @made = 0;
SET @made = @made + (SELECT COUNT(*) FROM "station" WHERE ("code" = 'A1' AND "na""me" = U&'it''s a \\ and\000aa line')
   OR ("code" = 'B1' AND "na""me" = '名' AND "lead" = 'B2')
   OR ("code" = 'B2' AND "na""me" IS NULL AND "lead" = 'B2'));
SET @made = @made + 2 - (SELECT COUNT(*) FROM "station" WHERE ("code" = 'C1')
   OR ("code" = 'C2'));
SET @made = @made + (SELECT COUNT(*) FROM "reading" WHERE ("id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = CAST('0.1' AS DOUBLE PRECISION) AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00' AND "raw" = X'00ff' AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE)
   OR ("id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE PRECISION) AND "good" = FALSE AND CASE WHEN "pressure" = CAST('1.0E300' AS DOUBLE PRECISION) AND "good" IS NULL THEN 1 ELSE 0 END = 0));
SELECT CASE WHEN @made IN (0, 10) THEN 1 ELSE SIGNAL('45000', @made || ' of 10 rows: some rows are as this would make them, so nothing was done') END;
SET @go = CASE WHEN @made = 10 THEN 0 ELSE 1 END;

-- log: deletes
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" IS NULL AND @go = 1 FETCH FIRST ROW ONLY)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'log') END;

-- log: inserts
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words") SELECT 'calm' WHERE @go = 1)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'log') END;
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words") SELECT 'calm' WHERE @go = 1)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'log') END;

-- station: inserts
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "station" ("code", "na""me", "lead") SELECT 'B1', '名', NULL WHERE @go = 1)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code B1') END;
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "station" ("code", "na""me", "lead") SELECT 'B2', NULL, NULL WHERE @go = 1)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code B2') END;

-- station: references within the table, now that all its rows are there
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code B1') END;
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code B2') END;

-- station: updates
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "na""me" = U&'it''s a \\ and\000aa line' WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1')) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code A1') END;

-- reading: updates
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "reading" SET "pressure" = CAST('4.9E-324' AS DOUBLE PRECISION), "good" = FALSE WHERE "id" = -9223372036854775808 AND "pressure" = CAST('1.0E300' AS DOUBLE PRECISION) AND "good" IS NULL AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'reading, id -9223372036854775808') END;

-- reading: inserts
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") SELECT 7, 'B1', -1.250, CAST('0.1' AS DOUBLE PRECISION), TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00', X'00ff', UUID '00000000-0000-0001-0000-000000000002', TRUE WHERE @go = 1)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'reading, id 7') END;

-- station: references within the table that would keep rows from being deleted
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2')) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code C1') END;

-- station: deletes
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1')) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code C2') END;
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code C1') END;

COMMIT;
SELECT CASE @go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result;

-- UNDO
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

SET AUTOCOMMIT FALSE;
SET @stopped = 'a row had changed since it was compared, so nothing was done: ';
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- was all of it done before?
SET @made = 0;
SET @made = @made + (SELECT COUNT(*) FROM "station" WHERE ("code" = 'A1' AND "na""me" IS NULL)
   OR ("code" = 'C1' AND "na""me" = '' AND "lead" = 'C2')
   OR ("code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1'));
SET @made = @made + 2 - (SELECT COUNT(*) FROM "station" WHERE ("code" = 'B1')
   OR ("code" = 'B2'));
SET @made = @made + (SELECT COUNT(*) FROM "reading" WHERE "id" = -9223372036854775808 AND "pressure" = CAST('1.0E300' AS DOUBLE PRECISION) AND "good" IS NULL AND CASE WHEN "pressure" = CAST('4.9E-324' AS DOUBLE PRECISION) AND "good" = FALSE THEN 1 ELSE 0 END = 0);
SET @made = @made + 1 - (SELECT COUNT(*) FROM "reading" WHERE "id" = 7);
SELECT CASE WHEN @made IN (0, 10) THEN 1 ELSE SIGNAL('45000', @made || ' of 10 rows: some rows are as this would make them, so nothing was done') END;
SET @go = CASE WHEN @made = 10 THEN 0 ELSE 1 END;

-- log: deletes
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" = 'calm' AND @go = 1 FETCH FIRST ROW ONLY)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'log') END;
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" = 'calm' AND @go = 1 FETCH FIRST ROW ONLY)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'log') END;

-- log: inserts
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words") SELECT NULL WHERE @go = 1)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'log') END;

-- station: inserts
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "station" ("code", "na""me", "lead") SELECT 'C1', '', NULL WHERE @go = 1)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code C1') END;
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "station" ("code", "na""me", "lead") SELECT 'C2', ' ', 'C1' WHERE @go = 1)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code C2') END;

-- station: references within the table, now that all its rows are there
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code C1') END;

-- station: updates
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = U&'it''s a \\ and\000aa line' AND "lead" = 'A1')) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code A1') END;

-- reading: deletes
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = CAST('0.1' AS DOUBLE PRECISION) AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00' AND "raw" = X'00ff' AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'reading, id 7') END;

-- reading: updates
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "reading" SET "pressure" = CAST('1.0E300' AS DOUBLE PRECISION), "good" = NULL WHERE "id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE PRECISION) AND "good" = FALSE AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'reading, id -9223372036854775808') END;

-- station: references within the table that would keep rows from being deleted
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2')) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code B1') END;
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2')) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code B2') END;

-- station: deletes
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code B2') END;
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code B1') END;

COMMIT;
SELECT CASE @go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result;

-- MEND
-- ScriptForm[style=merge, guarded=true, oldValues=true, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

SET LOCK_TIMEOUT 5000;
CREATE TABLE IF NOT EXISTS "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
SET AUTOCOMMIT FALSE;
SET @stopped = 'a row had changed since it was compared, so nothing was done: ';
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- was all of it done before?
SET @made = 0;
SET @made = @made + (SELECT COUNT(*) FROM "station" WHERE ("code" = 'A1' AND "na""me" = U&'it''s a \\ and\000aa line')
   OR ("code" = 'B1' AND "na""me" = '名' AND "lead" = 'B2')
   OR ("code" = 'B2' AND "na""me" IS NULL AND "lead" = 'B2'));
SET @made = @made + 2 - (SELECT COUNT(*) FROM "station" WHERE ("code" = 'C1')
   OR ("code" = 'C2'));
SET @made = @made + (SELECT COUNT(*) FROM "reading" WHERE ("id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = CAST('0.1' AS DOUBLE PRECISION) AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00' AND "raw" = X'00ff' AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE)
   OR ("id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE PRECISION) AND "good" = FALSE AND CASE WHEN "pressure" = CAST('1.0E300' AS DOUBLE PRECISION) AND "good" IS NULL THEN 1 ELSE 0 END = 0));
SELECT CASE WHEN @made IN (0, 10) THEN 1 ELSE SIGNAL('45000', @made || ' of 10 rows: some rows are as this would make them, so nothing was done') END;
SET @go = CASE WHEN @made = 10 THEN 0 ELSE 1 END;

-- rows that are changed or deleted, as they are now
INSERT INTO "log_tally_was" SELECT * FROM "log"
WHERE @go = 1 AND (("words" IS NULL));
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE @go = 1 AND (("code" = 'A1'));
INSERT INTO "reading_tally_was" SELECT * FROM "reading"
WHERE @go = 1 AND (("id" = -9223372036854775808));
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE @go = 1 AND (("code" = 'C2')
   OR ("code" = 'C1'));

-- log: deletes
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" IS NULL AND @go = 1 FETCH FIRST ROW ONLY)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'log') END;

-- log: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_1 TRANSACTIONAL AS SELECT "words" AS "words" FROM "log" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words")
SELECT sharp_tally."words" FROM sharp_tally_rows_1 sharp_tally
WHERE @go = 1)) WHEN 2 * @go THEN 1 ELSE SIGNAL('45000', @stopped || 'log, 2 rows') END;
DELETE FROM sharp_tally_rows_1;

-- station: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_2 TRANSACTIONAL AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "station" ("code", "na""me", "lead")
SELECT sharp_tally."code", sharp_tally."na""me", sharp_tally."lead" FROM sharp_tally_rows_2 sharp_tally
WHERE @go = 1)) WHEN 2 * @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, 2 rows from code B1 on') END;
DELETE FROM sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_3 TRANSACTIONAL AS SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', NULL, 'B2'),
  ('B2', NULL, 'B2');
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (MERGE INTO "station" USING sharp_tally_rows_3 sharp_tally
  ON ("station"."code" = sharp_tally."code" AND "station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was")
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new")) WHEN 2 * @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, 2 rows from code B1 on') END;
DELETE FROM sharp_tally_rows_3;

-- station: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_4 TRANSACTIONAL AS SELECT "code" AS "code", "na""me" AS "na""me_was", "lead" AS "lead_was", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', NULL, 'A1', U&'it''s a \\ and\000aa line');
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (MERGE INTO "station" USING sharp_tally_rows_4 sharp_tally
  ON ("station"."code" = sharp_tally."code" AND "station"."na""me" IS NOT DISTINCT FROM sharp_tally."na""me_was" AND "station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was")
WHEN MATCHED THEN UPDATE SET "na""me" = sharp_tally."na""me_new")) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code A1') END;
DELETE FROM sharp_tally_rows_4;

-- reading: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_5 TRANSACTIONAL AS SELECT "id" AS "id", "pressure" AS "pressure_was", "good" AS "good_was", "station" AS "station_was", "level" AS "level_was", "on_day" AS "on_day_was", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, CAST('1.0E300' AS DOUBLE PRECISION), NULL, 'A1', 1.500, NULL, CAST('4.9E-324' AS DOUBLE PRECISION), FALSE);
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (MERGE INTO "reading" USING sharp_tally_rows_5 sharp_tally
  ON ("reading"."id" = sharp_tally."id" AND "reading"."pressure" IS NOT DISTINCT FROM sharp_tally."pressure_was" AND "reading"."good" IS NOT DISTINCT FROM sharp_tally."good_was" AND "reading"."station" IS NOT DISTINCT FROM sharp_tally."station_was" AND "reading"."level" IS NOT DISTINCT FROM sharp_tally."level_was" AND "reading"."on_day" IS NOT DISTINCT FROM sharp_tally."on_day_was")
WHEN MATCHED THEN UPDATE SET "pressure" = sharp_tally."pressure_new", "good" = sharp_tally."good_new")) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'reading, id -9223372036854775808') END;
DELETE FROM sharp_tally_rows_5;

-- reading: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_6 TRANSACTIONAL AS SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, CAST('0.1' AS DOUBLE PRECISION), TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00', X'00ff', UUID '00000000-0000-0001-0000-000000000002', TRUE);
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good")
SELECT sharp_tally."id", sharp_tally."station", sharp_tally."level", sharp_tally."pressure", sharp_tally."taken", sharp_tally."on_day", sharp_tally."seen", sharp_tally."raw", sharp_tally."mark", sharp_tally."good" FROM sharp_tally_rows_6 sharp_tally
WHERE @go = 1)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'reading, id 7') END;
DELETE FROM sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_7 TRANSACTIONAL AS SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', 'C2', NULL);
SELECT CASE (SELECT COUNT(*) FROM FINAL TABLE (MERGE INTO "station" USING sharp_tally_rows_7 sharp_tally
  ON ("station"."code" = sharp_tally."code" AND "station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was")
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new")) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code C1') END;
DELETE FROM sharp_tally_rows_7;

-- station: deletes
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1')) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code C2') END;
SELECT CASE (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL)) WHEN @go THEN 1 ELSE SIGNAL('45000', @stopped || 'station, code C1') END;

COMMIT;
SELECT CASE @go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result;

-- MEND
-- ScriptForm[style=merge, guarded=false, oldValues=true, forClient=false, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

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
SELECT sharp_tally."words" FROM sharp_tally_rows_1 sharp_tally;
DELETE FROM sharp_tally_rows_1;

-- station: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_2 TRANSACTIONAL AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
MERGE INTO "station" USING sharp_tally_rows_2 sharp_tally
  ON ("station"."code" IS NOT DISTINCT FROM sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "na""me" = sharp_tally."na""me", "lead" = sharp_tally."lead"
WHEN NOT MATCHED THEN INSERT ("code", "na""me", "lead") VALUES (sharp_tally."code", sharp_tally."na""me", sharp_tally."lead");
DELETE FROM sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_3 TRANSACTIONAL AS SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', 'B2'),
  ('B2', 'B2');
MERGE INTO "station" USING sharp_tally_rows_3 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new";
DELETE FROM sharp_tally_rows_3;

-- station: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_4 TRANSACTIONAL AS SELECT "code" AS "code", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', U&'it''s a \\ and\000aa line');
MERGE INTO "station" USING sharp_tally_rows_4 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "na""me" = sharp_tally."na""me_new";
DELETE FROM sharp_tally_rows_4;

-- reading: updates
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_5 TRANSACTIONAL AS SELECT "id" AS "id", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, CAST('4.9E-324' AS DOUBLE PRECISION), FALSE);
MERGE INTO "reading" USING sharp_tally_rows_5 sharp_tally
  ON ("reading"."id" = sharp_tally."id")
WHEN MATCHED THEN UPDATE SET "pressure" = sharp_tally."pressure_new", "good" = sharp_tally."good_new";
DELETE FROM sharp_tally_rows_5;

-- reading: inserts
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_6 TRANSACTIONAL AS SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, CAST('0.1' AS DOUBLE PRECISION), TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00', X'00ff', UUID '00000000-0000-0001-0000-000000000002', TRUE);
MERGE INTO "reading" USING sharp_tally_rows_6 sharp_tally
  ON ("reading"."id" IS NOT DISTINCT FROM sharp_tally."id")
WHEN MATCHED THEN UPDATE SET "station" = sharp_tally."station", "level" = sharp_tally."level", "pressure" = sharp_tally."pressure", "taken" = sharp_tally."taken", "on_day" = sharp_tally."on_day", "seen" = sharp_tally."seen", "raw" = sharp_tally."raw", "mark" = sharp_tally."mark", "good" = sharp_tally."good"
WHEN NOT MATCHED THEN INSERT ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (sharp_tally."id", sharp_tally."station", sharp_tally."level", sharp_tally."pressure", sharp_tally."taken", sharp_tally."on_day", sharp_tally."seen", sharp_tally."raw", sharp_tally."mark", sharp_tally."good");
DELETE FROM sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE LOCAL TEMPORARY TABLE sharp_tally_rows_7 TRANSACTIONAL AS SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', NULL);
MERGE INTO "station" USING sharp_tally_rows_7 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new";
DELETE FROM sharp_tally_rows_7;

-- station: deletes
DELETE FROM "station" WHERE "code" = 'C2';
DELETE FROM "station" WHERE "code" = 'C1';

COMMIT;
