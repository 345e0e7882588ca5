-- MEND

-- Run this with auto-commit off.
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;
SELECT "words" FROM "log" WHERE 1 = 0;

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
a line' WHERE "code" = 'A1' AND "na""me" IS NULL;
-- these must have touched 1 rows

-- reading: updates
UPDATE "reading" SET "pressure" = 4.9E-324, "good" = FALSE WHERE "id" = -9223372036854775808 AND "pressure" = 1.0E300 AND "good" IS NULL;
-- these must have touched 1 rows

-- reading: inserts
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (7, 'B1', -1.250, 0.1E0, TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMP '2026-10-25 01:30:00+00:00', X'00ff', '00000000-0000-0001-0000-000000000002', TRUE);
-- these must have touched 1 rows

-- log: deletes
DELETE FROM "log" WHERE "words" IS NULL AND 1 = (SELECT COUNT(*) FROM "log" WHERE "words" IS NULL);
-- these must have touched 1 rows

-- log: inserts
INSERT INTO "log" ("words") VALUES ('calm');
INSERT INTO "log" ("words") VALUES ('calm');
-- these must have touched 2 rows

-- station: references within the table that would keep rows from being deleted
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2';
-- these must have touched 1 rows

-- station: deletes
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL;
-- these must have touched 2 rows

COMMIT;

-- UNDO

-- Run this with auto-commit off.
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;
SELECT "words" FROM "log" WHERE 1 = 0;

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C1', '', NULL);
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C2', ' ', 'C1');
-- these must have touched 2 rows

-- station: references within the table, now that all its rows are there
UPDATE "station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL;
-- these must have touched 1 rows

-- station: updates
UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = 'it''s a \ and
a line';
-- these must have touched 1 rows

-- reading: deletes
DELETE FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = 0.1E0 AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMP '2026-10-25 01:30:00+00:00' AND "raw" = X'00ff' AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = TRUE;
-- these must have touched 1 rows

-- reading: updates
UPDATE "reading" SET "pressure" = 1.0E300, "good" = NULL WHERE "id" = -9223372036854775808 AND "pressure" = 4.9E-324 AND "good" = FALSE;
-- these must have touched 1 rows

-- log: deletes
DELETE FROM "log" WHERE "words" = 'calm' AND 1 = (SELECT COUNT(*) FROM "log" WHERE "words" = 'calm');
DELETE FROM "log" WHERE "words" = 'calm' AND 1 = (SELECT COUNT(*) FROM "log" WHERE "words" = 'calm');
-- these must have touched 2 rows

-- log: inserts
INSERT INTO "log" ("words") VALUES (NULL);
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
