-- MEND

SET AUTOCOMMIT FALSE;
-- @n counts the rows that are touched
SET @n = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;
SELECT "words" FROM "log" WHERE 1 = 0;

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
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "na""me" = U&'it''s a \\ and\000aa line' WHERE "code" = 'A1' AND "na""me" IS NULL));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- reading: updates
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "reading" SET "pressure" = CAST('4.9E-324' AS DOUBLE PRECISION), "good" = FALSE WHERE "id" = -9223372036854775808 AND "pressure" = CAST('1.0E300' AS DOUBLE PRECISION) AND "good" IS NULL));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- reading: inserts
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (7, 'B1', -1.250, CAST('0.1' AS DOUBLE PRECISION), TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00', X'00ff', UUID '00000000-0000-0001-0000-000000000002', TRUE)));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- log: deletes
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" IS NULL FETCH FIRST ROW ONLY));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- log: inserts
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words") VALUES ('calm')));
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words") VALUES ('calm')));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
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

-- UNDO

SET AUTOCOMMIT FALSE;
-- @n counts the rows that are touched
SET @n = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;
SELECT "words" FROM "log" WHERE 1 = 0;

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
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = U&'it''s a \\ and\000aa line'));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- reading: deletes
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = CAST('0.1' AS DOUBLE PRECISION) AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMP WITH TIME ZONE '2026-10-25 01:30:00+00' AND "raw" = X'00ff' AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- reading: updates
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (UPDATE "reading" SET "pressure" = CAST('1.0E300' AS DOUBLE PRECISION), "good" = NULL WHERE "id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE PRECISION) AND "good" = FALSE));
SELECT CASE WHEN @n <> 1 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- log: deletes
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" = 'calm' FETCH FIRST ROW ONLY));
SET @n = @n + (SELECT COUNT(*) FROM OLD TABLE (DELETE FROM "log" WHERE "words" = 'calm' FETCH FIRST ROW ONLY));
SELECT CASE WHEN @n <> 2 THEN SIGNAL('45000', 'a row had changed since it was compared, so nothing was done') END;
SET @n = 0;

-- log: inserts
SET @n = @n + (SELECT COUNT(*) FROM FINAL TABLE (INSERT INTO "log" ("words") VALUES (NULL)));
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
