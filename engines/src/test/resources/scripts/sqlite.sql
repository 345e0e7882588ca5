-- MEND

.bail on
CREATE TEMP TABLE row_check (expected, touched,
  CONSTRAINT "a row had changed since it was compared, so nothing was done" CHECK (touched = expected));
CREATE TEMP TABLE row_count AS SELECT 0 AS before;
BEGIN IMMEDIATE;
UPDATE temp.row_count SET before = total_changes() + 1;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;
SELECT "words" FROM "log" WHERE 1 = 0;

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B1', '名', NULL);
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B2', NULL, NULL);
INSERT INTO temp.row_check SELECT 2, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- station: references within the table, now that all its rows are there
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL;
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL;
INSERT INTO temp.row_check SELECT 2, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- station: updates
UPDATE "station" SET "na""me" = ('it''s a \ and' || char(10) || 'a line') WHERE "code" = 'A1' AND "na""me" IS NULL;
INSERT INTO temp.row_check SELECT 1, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- reading: updates
UPDATE "reading" SET "pressure" = 4.9E-324, "good" = 0 WHERE "id" = (-9223372036854775807 - 1) AND "pressure" = 1.0E300 AND "good" IS NULL;
INSERT INTO temp.row_check SELECT 1, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- reading: inserts
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (7, 'B1', -1.250, 0.1, '2026-03-29 02:30:00.001', '2024-02-29', '2026-10-25 01:30:00Z', x'00ff', '00000000-0000-0001-0000-000000000002', 1);
INSERT INTO temp.row_check SELECT 1, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- log: deletes
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" IS NULL LIMIT 1);
INSERT INTO temp.row_check SELECT 1, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- log: inserts
INSERT INTO "log" ("words") VALUES ('calm');
INSERT INTO "log" ("words") VALUES ('calm');
INSERT INTO temp.row_check SELECT 2, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- station: references within the table that would keep rows from being deleted
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2';
INSERT INTO temp.row_check SELECT 1, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- station: deletes
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL;
INSERT INTO temp.row_check SELECT 2, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

COMMIT;

-- UNDO

.bail on
CREATE TEMP TABLE row_check (expected, touched,
  CONSTRAINT "a row had changed since it was compared, so nothing was done" CHECK (touched = expected));
CREATE TEMP TABLE row_count AS SELECT 0 AS before;
BEGIN IMMEDIATE;
UPDATE temp.row_count SET before = total_changes() + 1;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;
SELECT "words" FROM "log" WHERE 1 = 0;

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C1', '', NULL);
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C2', ' ', 'C1');
INSERT INTO temp.row_check SELECT 2, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- station: references within the table, now that all its rows are there
UPDATE "station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL;
INSERT INTO temp.row_check SELECT 1, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- station: updates
UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = ('it''s a \ and' || char(10) || 'a line');
INSERT INTO temp.row_check SELECT 1, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- reading: deletes
DELETE FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = 0.1 AND "taken" = '2026-03-29 02:30:00.001' AND "on_day" = '2024-02-29' AND "seen" = '2026-10-25 01:30:00Z' AND "raw" = x'00ff' AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = 1;
INSERT INTO temp.row_check SELECT 1, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- reading: updates
UPDATE "reading" SET "pressure" = 1.0E300, "good" = NULL WHERE "id" = (-9223372036854775807 - 1) AND "pressure" = 4.9E-324 AND "good" = 0;
INSERT INTO temp.row_check SELECT 1, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- log: deletes
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" = 'calm' LIMIT 1);
DELETE FROM "log" WHERE rowid = (SELECT rowid FROM "log" WHERE "words" = 'calm' LIMIT 1);
INSERT INTO temp.row_check SELECT 2, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- log: inserts
INSERT INTO "log" ("words") VALUES (NULL);
INSERT INTO temp.row_check SELECT 1, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- station: references within the table that would keep rows from being deleted
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2';
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2';
INSERT INTO temp.row_check SELECT 2, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

-- station: deletes
DELETE FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL;
DELETE FROM "station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL;
INSERT INTO temp.row_check SELECT 2, total_changes() - before FROM temp.row_count;
UPDATE temp.row_count SET before = total_changes() + 1;

COMMIT;
