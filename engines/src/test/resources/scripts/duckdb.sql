-- MEND

SET TimeZone = 'UTC';
BEGIN TRANSACTION;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;
SELECT "words" FROM "log" WHERE 1 = 0;

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B1', '名', NULL);
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B2', NULL, NULL);

-- station: references within the table, now that all its rows are there
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B1' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done') END;
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL;
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B2' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done') END;
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL;

-- station: updates
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'A1' AND "na""me" IS NULL) THEN error('a row had changed since it was compared, so nothing was done') END;
UPDATE "station" SET "na""me" = ('it''s a \ and' || chr(10) || 'a line') WHERE "code" = 'A1' AND "na""me" IS NULL;

-- reading: updates
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "reading" WHERE "id" = -9223372036854775808 AND "pressure" = CAST('1.0E300' AS DOUBLE) AND "good" IS NULL) THEN error('a row had changed since it was compared, so nothing was done') END;
UPDATE "reading" SET "pressure" = CAST('4.9E-324' AS DOUBLE), "good" = FALSE WHERE "id" = -9223372036854775808 AND "pressure" = CAST('1.0E300' AS DOUBLE) AND "good" IS NULL;

-- reading: inserts
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (7, 'B1', CAST('-1.250' AS decimal(7,3)), CAST('0.1' AS DOUBLE), CAST('2026-03-29 02:30:00.001' AS timestamp), DATE '2024-02-29', TIMESTAMPTZ '2026-10-25 01:30:00+00', unhex('00ff'), UUID '00000000-0000-0001-0000-000000000002', TRUE);

-- log: deletes
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "log" WHERE "words" IS NULL) THEN error('a row had changed since it was compared, so nothing was done') END;
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" IS NULL LIMIT 1);

-- log: inserts
INSERT INTO "log" ("words") VALUES ('calm');
INSERT INTO "log" ("words") VALUES ('calm');

-- station: references within the table that would keep rows from being deleted
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'C1' AND "lead" = 'C2') THEN error('a row had changed since it was compared, so nothing was done') END;
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2';

-- station: deletes
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1') THEN error('a row had changed since it was compared, so nothing was done') END;
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done') END;
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL;

COMMIT;

-- UNDO

SET TimeZone = 'UTC';
BEGIN TRANSACTION;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;
SELECT "words" FROM "log" WHERE 1 = 0;

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C1', '', NULL);
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C2', ' ', 'C1');

-- station: references within the table, now that all its rows are there
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'C1' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done') END;
UPDATE "station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL;

-- station: updates
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'A1' AND "na""me" = ('it''s a \ and' || chr(10) || 'a line')) THEN error('a row had changed since it was compared, so nothing was done') END;
UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = ('it''s a \ and' || chr(10) || 'a line');

-- reading: deletes
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = CAST('-1.250' AS decimal(7,3)) AND "pressure" = CAST('0.1' AS DOUBLE) AND "taken" = CAST('2026-03-29 02:30:00.001' AS timestamp) AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMPTZ '2026-10-25 01:30:00+00' AND "raw" = unhex('00ff') AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE) THEN error('a row had changed since it was compared, so nothing was done') END;
DELETE FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = CAST('-1.250' AS decimal(7,3)) AND "pressure" = CAST('0.1' AS DOUBLE) AND "taken" = CAST('2026-03-29 02:30:00.001' AS timestamp) AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMPTZ '2026-10-25 01:30:00+00' AND "raw" = unhex('00ff') AND "mark" = UUID '00000000-0000-0001-0000-000000000002' AND "good" = TRUE;

-- reading: updates
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "reading" WHERE "id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE) AND "good" = FALSE) THEN error('a row had changed since it was compared, so nothing was done') END;
UPDATE "reading" SET "pressure" = CAST('1.0E300' AS DOUBLE), "good" = NULL WHERE "id" = -9223372036854775808 AND "pressure" = CAST('4.9E-324' AS DOUBLE) AND "good" = FALSE;

-- log: deletes
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "log" WHERE "words" = 'calm') THEN error('a row had changed since it was compared, so nothing was done') END;
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" = 'calm' LIMIT 1);
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "log" WHERE "words" = 'calm') THEN error('a row had changed since it was compared, so nothing was done') END;
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" = 'calm' LIMIT 1);

-- log: inserts
INSERT INTO "log" ("words") VALUES (NULL);

-- station: references within the table that would keep rows from being deleted
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B1' AND "lead" = 'B2') THEN error('a row had changed since it was compared, so nothing was done') END;
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2';
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B2' AND "lead" = 'B2') THEN error('a row had changed since it was compared, so nothing was done') END;
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2';

-- station: deletes
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done') END;
DELETE FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL;
SELECT CASE WHEN NOT EXISTS (SELECT 1 FROM "station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL) THEN error('a row had changed since it was compared, so nothing was done') END;
DELETE FROM "station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL;

COMMIT;
