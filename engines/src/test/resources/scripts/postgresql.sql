-- MEND

BEGIN;
SET LOCAL standard_conforming_strings = on;
CREATE TEMP TABLE row_count (n bigint) ON COMMIT DROP;
CREATE TEMP TABLE row_check (expected bigint, touched bigint,
  CONSTRAINT "a row had changed since it was compared, so nothing was done" CHECK (touched = expected)) ON COMMIT DROP;
INSERT INTO row_count SELECT 0 FROM (SELECT "code", "na""me", "lead" FROM "public"."station" WHERE false) shape;
INSERT INTO row_count SELECT 0 FROM (SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "public"."reading" WHERE false) shape;
INSERT INTO row_count SELECT 0 FROM (SELECT "words" FROM "public"."log" WHERE false) shape;

-- station: inserts
WITH t AS (INSERT INTO "public"."station" ("code", "na""me", "lead") VALUES ('B1', '名', NULL) RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
WITH t AS (INSERT INTO "public"."station" ("code", "na""me", "lead") VALUES ('B2', NULL, NULL) RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 2, sum(n) FROM row_count;
DELETE FROM row_count;

-- station: references within the table, now that all its rows are there
WITH t AS (UPDATE "public"."station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
WITH t AS (UPDATE "public"."station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 2, sum(n) FROM row_count;
DELETE FROM row_count;

-- station: updates
WITH t AS (UPDATE "public"."station" SET "na""me" = E'it''s a \\ and\na line' WHERE "code" = 'A1' AND "na""me" IS NULL RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 1, sum(n) FROM row_count;
DELETE FROM row_count;

-- reading: updates
WITH t AS (UPDATE "public"."reading" SET "pressure" = '4.9E-324'::double precision, "good" = FALSE WHERE "id" = (-9223372036854775808) AND "pressure" = '1.0E300'::double precision AND "good" IS NULL RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 1, sum(n) FROM row_count;
DELETE FROM row_count;

-- reading: inserts
WITH t AS (INSERT INTO "public"."reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (7, 'B1', (-1.250), '0.1'::double precision, TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMPTZ '2026-10-25 01:30:00+00', '\x00ff'::bytea, '00000000-0000-0001-0000-000000000002', TRUE) RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 1, sum(n) FROM row_count;
DELETE FROM row_count;

-- log: deletes
WITH t AS (DELETE FROM "public"."log" WHERE ctid = (SELECT ctid FROM "public"."log" WHERE "words" IS NULL LIMIT 1) RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 1, sum(n) FROM row_count;
DELETE FROM row_count;

-- log: inserts
WITH t AS (INSERT INTO "public"."log" ("words") VALUES ('calm') RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
WITH t AS (INSERT INTO "public"."log" ("words") VALUES ('calm') RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 2, sum(n) FROM row_count;
DELETE FROM row_count;

-- station: references within the table that would keep rows from being deleted
WITH t AS (UPDATE "public"."station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2' RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 1, sum(n) FROM row_count;
DELETE FROM row_count;

-- station: deletes
WITH t AS (DELETE FROM "public"."station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1' RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
WITH t AS (DELETE FROM "public"."station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 2, sum(n) FROM row_count;
DELETE FROM row_count;

COMMIT;

-- UNDO

BEGIN;
SET LOCAL standard_conforming_strings = on;
CREATE TEMP TABLE row_count (n bigint) ON COMMIT DROP;
CREATE TEMP TABLE row_check (expected bigint, touched bigint,
  CONSTRAINT "a row had changed since it was compared, so nothing was done" CHECK (touched = expected)) ON COMMIT DROP;
INSERT INTO row_count SELECT 0 FROM (SELECT "code", "na""me", "lead" FROM "public"."station" WHERE false) shape;
INSERT INTO row_count SELECT 0 FROM (SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "public"."reading" WHERE false) shape;
INSERT INTO row_count SELECT 0 FROM (SELECT "words" FROM "public"."log" WHERE false) shape;

-- station: inserts
WITH t AS (INSERT INTO "public"."station" ("code", "na""me", "lead") VALUES ('C1', '', NULL) RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
WITH t AS (INSERT INTO "public"."station" ("code", "na""me", "lead") VALUES ('C2', ' ', 'C1') RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 2, sum(n) FROM row_count;
DELETE FROM row_count;

-- station: references within the table, now that all its rows are there
WITH t AS (UPDATE "public"."station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 1, sum(n) FROM row_count;
DELETE FROM row_count;

-- station: updates
WITH t AS (UPDATE "public"."station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = E'it''s a \\ and\na line' RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 1, sum(n) FROM row_count;
DELETE FROM row_count;

-- reading: deletes
WITH t AS (DELETE FROM "public"."reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = (-1.250) AND "pressure" = '0.1'::double precision AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMPTZ '2026-10-25 01:30:00+00' AND "raw" = '\x00ff'::bytea AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = TRUE RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 1, sum(n) FROM row_count;
DELETE FROM row_count;

-- reading: updates
WITH t AS (UPDATE "public"."reading" SET "pressure" = '1.0E300'::double precision, "good" = NULL WHERE "id" = (-9223372036854775808) AND "pressure" = '4.9E-324'::double precision AND "good" = FALSE RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 1, sum(n) FROM row_count;
DELETE FROM row_count;

-- log: deletes
WITH t AS (DELETE FROM "public"."log" WHERE ctid = (SELECT ctid FROM "public"."log" WHERE "words" = 'calm' LIMIT 1) RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
WITH t AS (DELETE FROM "public"."log" WHERE ctid = (SELECT ctid FROM "public"."log" WHERE "words" = 'calm' LIMIT 1) RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 2, sum(n) FROM row_count;
DELETE FROM row_count;

-- log: inserts
WITH t AS (INSERT INTO "public"."log" ("words") VALUES (NULL) RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 1, sum(n) FROM row_count;
DELETE FROM row_count;

-- station: references within the table that would keep rows from being deleted
WITH t AS (UPDATE "public"."station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2' RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
WITH t AS (UPDATE "public"."station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2' RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 2, sum(n) FROM row_count;
DELETE FROM row_count;

-- station: deletes
WITH t AS (DELETE FROM "public"."station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
WITH t AS (DELETE FROM "public"."station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT count(*) FROM t;
INSERT INTO row_check SELECT 2, sum(n) FROM row_count;
DELETE FROM row_count;

COMMIT;
