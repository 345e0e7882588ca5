-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

\set ON_ERROR_STOP on
BEGIN;
SET LOCAL standard_conforming_strings = on;
SET LOCAL row_security = off;
CREATE TEMP TABLE row_count (expected bigint, touched bigint, rows text) ON COMMIT DROP;
CREATE TEMP TABLE row_check (expected bigint, touched bigint, rows text,
  CONSTRAINT "a row had changed since it was compared, so nothing was done" CHECK (touched = expected)) ON COMMIT DROP;
CREATE TEMP TABLE place_check (place text, CONSTRAINT "not the database that was compared, nothing was done" CHECK (place = 'archive')) ON COMMIT DROP;
INSERT INTO place_check VALUES (current_database());
SET CONSTRAINTS ALL DEFERRED;
INSERT INTO row_count SELECT 0, 0, '' FROM (SELECT "words" FROM "public"."log" WHERE false) shape;
INSERT INTO row_count SELECT 0, 0, '' FROM (SELECT "code", "na""me", "lead" FROM "public"."station" WHERE false) shape;
INSERT INTO row_count SELECT 0, 0, '' FROM (SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "public"."reading" WHERE false) shape;

-- was all of it done before?
CREATE TEMP TABLE sharp_tally_made (made bigint) ON COMMIT DROP;
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "public"."station" WHERE ("code" = 'A1' AND "na""me" = E'it''s a \\ and\na line')
   OR ("code" = 'B1' AND "na""me" = '名' AND "lead" = 'B2')
   OR ("code" = 'B2' AND "na""me" IS NULL AND "lead" = 'B2'));
INSERT INTO sharp_tally_made SELECT 2 - (SELECT COUNT(*) FROM "public"."station" WHERE ("code" = 'C1')
   OR ("code" = 'C2'));
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "public"."reading" WHERE ("id" = 7 AND "station" = 'B1' AND "level" = (-1.250) AND "pressure" = '0.1'::double precision AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMPTZ '2026-10-25 01:30:00+00' AND "raw" = '\x00ff'::bytea AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = TRUE)
   OR ("id" = (-9223372036854775808) AND "pressure" = '5.0E-324'::double precision AND "good" = FALSE AND CASE WHEN "pressure" = '1.0E300'::double precision AND "good" IS NULL THEN 1 ELSE 0 END = 0));
CREATE TEMP TABLE sharp_tally_go (made bigint, rows bigint, go int, CONSTRAINT "some rows are as this would make them, so nothing was done" CHECK (made = 0 OR made = rows)) ON COMMIT DROP;
INSERT INTO sharp_tally_go SELECT sum(made), 10, CASE WHEN sum(made) = 10 THEN 0 ELSE 1 END FROM sharp_tally_made;

-- log: deletes
WITH t AS (DELETE FROM "public"."log" WHERE ctid = (SELECT ctid FROM "public"."log" WHERE "words" IS NULL AND (SELECT go FROM sharp_tally_go) = 1 LIMIT 1) RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'log' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- log: inserts
WITH t AS (INSERT INTO "public"."log" ("words") SELECT 'calm' WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'log' FROM t;
WITH t AS (INSERT INTO "public"."log" ("words") SELECT 'calm' WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'log' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- station: inserts
WITH t AS (INSERT INTO "public"."station" ("code", "na""me", "lead") SELECT 'B1', '名', NULL WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code B1' FROM t;
WITH t AS (INSERT INTO "public"."station" ("code", "na""me", "lead") SELECT 'B2', NULL, NULL WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code B2' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- station: references within the table, now that all its rows are there
WITH t AS (UPDATE "public"."station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code B1' FROM t;
WITH t AS (UPDATE "public"."station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code B2' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- station: updates
WITH t AS (UPDATE "public"."station" SET "na""me" = E'it''s a \\ and\na line' WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1' RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code A1' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- reading: updates
WITH t AS (UPDATE "public"."reading" SET "pressure" = '5.0E-324'::double precision, "good" = FALSE WHERE "id" = (-9223372036854775808) AND "pressure" = '1.0E300'::double precision AND "good" IS NULL AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'reading, id -9223372036854775808' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- reading: inserts
WITH t AS (INSERT INTO "public"."reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") SELECT 7, 'B1', (-1.250), '0.1'::double precision, TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMPTZ '2026-10-25 01:30:00+00', '\x00ff'::bytea, '00000000-0000-0001-0000-000000000002', TRUE WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'reading, id 7' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- station: references within the table that would keep rows from being deleted
WITH t AS (UPDATE "public"."station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2' RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code C1' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- station: deletes
WITH t AS (DELETE FROM "public"."station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1' RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code C2' FROM t;
WITH t AS (DELETE FROM "public"."station" WHERE "code" = 'C1' AND "na""me" = '' AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code C1' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

SELECT CASE go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM sharp_tally_go \gset sharp_tally_
COMMIT;
\echo :sharp_tally_result

-- UNDO
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

\set ON_ERROR_STOP on
BEGIN;
SET LOCAL standard_conforming_strings = on;
SET LOCAL row_security = off;
CREATE TEMP TABLE row_count (expected bigint, touched bigint, rows text) ON COMMIT DROP;
CREATE TEMP TABLE row_check (expected bigint, touched bigint, rows text,
  CONSTRAINT "a row had changed since it was compared, so nothing was done" CHECK (touched = expected)) ON COMMIT DROP;
CREATE TEMP TABLE place_check (place text, CONSTRAINT "not the database that was compared, nothing was done" CHECK (place = 'archive')) ON COMMIT DROP;
INSERT INTO place_check VALUES (current_database());
SET CONSTRAINTS ALL DEFERRED;
INSERT INTO row_count SELECT 0, 0, '' FROM (SELECT "words" FROM "public"."log" WHERE false) shape;
INSERT INTO row_count SELECT 0, 0, '' FROM (SELECT "code", "na""me", "lead" FROM "public"."station" WHERE false) shape;
INSERT INTO row_count SELECT 0, 0, '' FROM (SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "public"."reading" WHERE false) shape;

-- was all of it done before?
CREATE TEMP TABLE sharp_tally_made (made bigint) ON COMMIT DROP;
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "public"."station" WHERE ("code" = 'A1' AND "na""me" IS NULL)
   OR ("code" = 'C1' AND "na""me" = '' AND "lead" = 'C2')
   OR ("code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1'));
INSERT INTO sharp_tally_made SELECT 2 - (SELECT COUNT(*) FROM "public"."station" WHERE ("code" = 'B1')
   OR ("code" = 'B2'));
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "public"."reading" WHERE "id" = (-9223372036854775808) AND "pressure" = '1.0E300'::double precision AND "good" IS NULL AND CASE WHEN "pressure" = '5.0E-324'::double precision AND "good" = FALSE THEN 1 ELSE 0 END = 0);
INSERT INTO sharp_tally_made SELECT 1 - (SELECT COUNT(*) FROM "public"."reading" WHERE "id" = 7);
CREATE TEMP TABLE sharp_tally_go (made bigint, rows bigint, go int, CONSTRAINT "some rows are as this would make them, so nothing was done" CHECK (made = 0 OR made = rows)) ON COMMIT DROP;
INSERT INTO sharp_tally_go SELECT sum(made), 10, CASE WHEN sum(made) = 10 THEN 0 ELSE 1 END FROM sharp_tally_made;

-- log: deletes
WITH t AS (DELETE FROM "public"."log" WHERE ctid = (SELECT ctid FROM "public"."log" WHERE "words" = 'calm' AND (SELECT go FROM sharp_tally_go) = 1 LIMIT 1) RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'log' FROM t;
WITH t AS (DELETE FROM "public"."log" WHERE ctid = (SELECT ctid FROM "public"."log" WHERE "words" = 'calm' AND (SELECT go FROM sharp_tally_go) = 1 LIMIT 1) RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'log' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- log: inserts
WITH t AS (INSERT INTO "public"."log" ("words") SELECT NULL WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'log' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- station: inserts
WITH t AS (INSERT INTO "public"."station" ("code", "na""me", "lead") SELECT 'C1', '', NULL WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code C1' FROM t;
WITH t AS (INSERT INTO "public"."station" ("code", "na""me", "lead") SELECT 'C2', ' ', 'C1' WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code C2' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- station: references within the table, now that all its rows are there
WITH t AS (UPDATE "public"."station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code C1' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- station: updates
WITH t AS (UPDATE "public"."station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = E'it''s a \\ and\na line' AND "lead" = 'A1' RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code A1' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- reading: deletes
WITH t AS (DELETE FROM "public"."reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = (-1.250) AND "pressure" = '0.1'::double precision AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMPTZ '2026-10-25 01:30:00+00' AND "raw" = '\x00ff'::bytea AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = TRUE RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'reading, id 7' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- reading: updates
WITH t AS (UPDATE "public"."reading" SET "pressure" = '1.0E300'::double precision, "good" = NULL WHERE "id" = (-9223372036854775808) AND "pressure" = '5.0E-324'::double precision AND "good" = FALSE AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'reading, id -9223372036854775808' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- station: references within the table that would keep rows from being deleted
WITH t AS (UPDATE "public"."station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2' RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code B1' FROM t;
WITH t AS (UPDATE "public"."station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2' RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code B2' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- station: deletes
WITH t AS (DELETE FROM "public"."station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code B2' FROM t;
WITH t AS (DELETE FROM "public"."station" WHERE "code" = 'B1' AND "na""me" = '名' AND "lead" IS NULL RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code B1' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

SELECT CASE go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM sharp_tally_go \gset sharp_tally_
COMMIT;
\echo :sharp_tally_result

-- MEND
-- ScriptForm[style=merge, guarded=true, oldValues=true, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

\set ON_ERROR_STOP on
CREATE TABLE IF NOT EXISTS "public"."log_tally_was" AS SELECT * FROM "public"."log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "public"."station_tally_was" AS SELECT * FROM "public"."station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "public"."reading_tally_was" AS SELECT * FROM "public"."reading" WHERE 1 = 0;
BEGIN;
SET LOCAL standard_conforming_strings = on;
SET LOCAL row_security = off;
CREATE TEMP TABLE row_count (expected bigint, touched bigint, rows text) ON COMMIT DROP;
CREATE TEMP TABLE row_check (expected bigint, touched bigint, rows text,
  CONSTRAINT "a row had changed since it was compared, so nothing was done" CHECK (touched = expected)) ON COMMIT DROP;
SET LOCAL lock_timeout = '5000ms';
CREATE TEMP TABLE place_check (place text, CONSTRAINT "not the database that was compared, nothing was done" CHECK (place = 'archive')) ON COMMIT DROP;
INSERT INTO place_check VALUES (current_database());
SET CONSTRAINTS ALL DEFERRED;
INSERT INTO row_count SELECT 0, 0, '' FROM (SELECT "words" FROM "public"."log" WHERE false) shape;
INSERT INTO row_count SELECT 0, 0, '' FROM (SELECT "code", "na""me", "lead" FROM "public"."station" WHERE false) shape;
INSERT INTO row_count SELECT 0, 0, '' FROM (SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "public"."reading" WHERE false) shape;

-- was all of it done before?
CREATE TEMP TABLE sharp_tally_made (made bigint) ON COMMIT DROP;
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "public"."station" WHERE ("code" = 'A1' AND "na""me" = E'it''s a \\ and\na line')
   OR ("code" = 'B1' AND "na""me" = '名' AND "lead" = 'B2')
   OR ("code" = 'B2' AND "na""me" IS NULL AND "lead" = 'B2'));
INSERT INTO sharp_tally_made SELECT 2 - (SELECT COUNT(*) FROM "public"."station" WHERE ("code" = 'C1')
   OR ("code" = 'C2'));
INSERT INTO sharp_tally_made SELECT (SELECT COUNT(*) FROM "public"."reading" WHERE ("id" = 7 AND "station" = 'B1' AND "level" = (-1.250) AND "pressure" = '0.1'::double precision AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = DATE '2024-02-29' AND "seen" = TIMESTAMPTZ '2026-10-25 01:30:00+00' AND "raw" = '\x00ff'::bytea AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = TRUE)
   OR ("id" = (-9223372036854775808) AND "pressure" = '5.0E-324'::double precision AND "good" = FALSE AND CASE WHEN "pressure" = '1.0E300'::double precision AND "good" IS NULL THEN 1 ELSE 0 END = 0));
CREATE TEMP TABLE sharp_tally_go (made bigint, rows bigint, go int, CONSTRAINT "some rows are as this would make them, so nothing was done" CHECK (made = 0 OR made = rows)) ON COMMIT DROP;
INSERT INTO sharp_tally_go SELECT sum(made), 10, CASE WHEN sum(made) = 10 THEN 0 ELSE 1 END FROM sharp_tally_made;

-- rows that are changed or deleted, as they are now
INSERT INTO "public"."log_tally_was" SELECT * FROM "public"."log"
WHERE (SELECT go FROM sharp_tally_go) = 1 AND (("words" IS NULL));
INSERT INTO "public"."station_tally_was" SELECT * FROM "public"."station"
WHERE (SELECT go FROM sharp_tally_go) = 1 AND (("code" = 'A1'));
INSERT INTO "public"."reading_tally_was" SELECT * FROM "public"."reading"
WHERE (SELECT go FROM sharp_tally_go) = 1 AND (("id" = (-9223372036854775808)));
INSERT INTO "public"."station_tally_was" SELECT * FROM "public"."station"
WHERE (SELECT go FROM sharp_tally_go) = 1 AND (("code" = 'C2')
   OR ("code" = 'C1'));

-- log: deletes
WITH t AS (DELETE FROM "public"."log" WHERE ctid = (SELECT ctid FROM "public"."log" WHERE "words" IS NULL AND (SELECT go FROM sharp_tally_go) = 1 LIMIT 1) RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'log' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;

-- log: inserts
CREATE TEMP TABLE sharp_tally_rows_1 ON COMMIT DROP AS SELECT "words" AS "words" FROM "public"."log" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
WITH t AS (INSERT INTO "public"."log" ("words")
SELECT sharp_tally."words" FROM sharp_tally_rows_1 sharp_tally
WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 2, count(*), 'log, 2 rows' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;
DROP TABLE sharp_tally_rows_1;

-- station: inserts
CREATE TEMP TABLE sharp_tally_rows_2 ON COMMIT DROP AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "public"."station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
WITH t AS (INSERT INTO "public"."station" ("code", "na""me", "lead")
SELECT sharp_tally."code", sharp_tally."na""me", sharp_tally."lead" FROM sharp_tally_rows_2 sharp_tally
WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 2, count(*), 'station, 2 rows from code B1 on' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;
DROP TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE TEMP TABLE sharp_tally_rows_3 ON COMMIT DROP AS SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "public"."station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', NULL, 'B2'),
  ('B2', NULL, 'B2');
WITH t AS (UPDATE "public"."station"
SET "lead" = sharp_tally."lead_new"
FROM sharp_tally_rows_3 sharp_tally
WHERE "public"."station"."code" = sharp_tally."code" AND "public"."station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was" RETURNING 1) INSERT INTO row_count SELECT 2, count(*), 'station, 2 rows from code B1 on' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;
DROP TABLE sharp_tally_rows_3;

-- station: updates
CREATE TEMP TABLE sharp_tally_rows_4 ON COMMIT DROP AS SELECT "code" AS "code", "na""me" AS "na""me_was", "lead" AS "lead_was", "na""me" AS "na""me_new" FROM "public"."station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', NULL, 'A1', E'it''s a \\ and\na line');
WITH t AS (UPDATE "public"."station"
SET "na""me" = sharp_tally."na""me_new"
FROM sharp_tally_rows_4 sharp_tally
WHERE "public"."station"."code" = sharp_tally."code" AND "public"."station"."na""me" IS NOT DISTINCT FROM sharp_tally."na""me_was" AND "public"."station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was" RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code A1' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;
DROP TABLE sharp_tally_rows_4;

-- reading: updates
CREATE TEMP TABLE sharp_tally_rows_5 ON COMMIT DROP AS SELECT "id" AS "id", "pressure" AS "pressure_was", "good" AS "good_was", "station" AS "station_was", "level" AS "level_was", "on_day" AS "on_day_was", "pressure" AS "pressure_new", "good" AS "good_new" FROM "public"."reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  ((-9223372036854775808), '1.0E300'::double precision, NULL, 'A1', 1.500, NULL, '5.0E-324'::double precision, FALSE);
WITH t AS (UPDATE "public"."reading"
SET "pressure" = sharp_tally."pressure_new", "good" = sharp_tally."good_new"
FROM sharp_tally_rows_5 sharp_tally
WHERE "public"."reading"."id" = sharp_tally."id" AND "public"."reading"."pressure" IS NOT DISTINCT FROM sharp_tally."pressure_was" AND "public"."reading"."good" IS NOT DISTINCT FROM sharp_tally."good_was" AND "public"."reading"."station" IS NOT DISTINCT FROM sharp_tally."station_was" AND "public"."reading"."level" IS NOT DISTINCT FROM sharp_tally."level_was" AND "public"."reading"."on_day" IS NOT DISTINCT FROM sharp_tally."on_day_was" RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'reading, id -9223372036854775808' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;
DROP TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE TEMP TABLE sharp_tally_rows_6 ON COMMIT DROP AS SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "public"."reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', (-1.250), '0.1'::double precision, TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMPTZ '2026-10-25 01:30:00+00', '\x00ff'::bytea, '00000000-0000-0001-0000-000000000002', TRUE);
WITH t AS (INSERT INTO "public"."reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good")
SELECT sharp_tally."id", sharp_tally."station", sharp_tally."level", sharp_tally."pressure", sharp_tally."taken", sharp_tally."on_day", sharp_tally."seen", sharp_tally."raw", sharp_tally."mark", sharp_tally."good" FROM sharp_tally_rows_6 sharp_tally
WHERE (SELECT go FROM sharp_tally_go) = 1 RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'reading, id 7' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;
DROP TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE TEMP TABLE sharp_tally_rows_7 ON COMMIT DROP AS SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "public"."station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', 'C2', NULL);
WITH t AS (UPDATE "public"."station"
SET "lead" = sharp_tally."lead_new"
FROM sharp_tally_rows_7 sharp_tally
WHERE "public"."station"."code" = sharp_tally."code" AND "public"."station"."lead" IS NOT DISTINCT FROM sharp_tally."lead_was" RETURNING 1) INSERT INTO row_count SELECT 1, count(*), 'station, code C1' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;
DROP TABLE sharp_tally_rows_7;

-- station: deletes
CREATE TEMP TABLE sharp_tally_rows_8 ON COMMIT DROP AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "public"."station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_8 VALUES
  ('C2', ' ', 'C1'),
  ('C1', '', NULL);
WITH t AS (DELETE FROM "public"."station"
WHERE EXISTS (SELECT 1 FROM sharp_tally_rows_8 sharp_tally WHERE "public"."station"."code" = sharp_tally."code" AND "public"."station"."na""me" IS NOT DISTINCT FROM sharp_tally."na""me" AND "public"."station"."lead" IS NOT DISTINCT FROM sharp_tally."lead") RETURNING 1) INSERT INTO row_count SELECT 2, count(*), 'station, 2 rows from code C2 on' FROM t;
INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;
DELETE FROM row_count;
DROP TABLE sharp_tally_rows_8;

SELECT CASE go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM sharp_tally_go \gset sharp_tally_
COMMIT;
\echo :sharp_tally_result

-- MEND
-- ScriptForm[style=merge, guarded=false, oldValues=true, forClient=false, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

CREATE TABLE IF NOT EXISTS "public"."log_tally_was" AS SELECT * FROM "public"."log" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "public"."station_tally_was" AS SELECT * FROM "public"."station" WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS "public"."reading_tally_was" AS SELECT * FROM "public"."reading" WHERE 1 = 0;
BEGIN;
SET LOCAL standard_conforming_strings = on;
SET LOCAL row_security = off;
SET LOCAL lock_timeout = '5000ms';
CREATE TEMP TABLE place_check (place text, CONSTRAINT "not the database that was compared, nothing was done" CHECK (place = 'archive')) ON COMMIT DROP;
INSERT INTO place_check VALUES (current_database());
SET CONSTRAINTS ALL DEFERRED;

-- rows that are changed or deleted, as they are now
INSERT INTO "public"."log_tally_was" SELECT * FROM "public"."log"
WHERE ("words" IS NULL);
INSERT INTO "public"."station_tally_was" SELECT * FROM "public"."station"
WHERE ("code" = 'A1');
INSERT INTO "public"."reading_tally_was" SELECT * FROM "public"."reading"
WHERE ("id" = (-9223372036854775808));
INSERT INTO "public"."station_tally_was" SELECT * FROM "public"."station"
WHERE ("code" = 'C2')
   OR ("code" = 'C1');

-- log: deletes
DELETE FROM "public"."log" WHERE ctid = (SELECT ctid FROM "public"."log" WHERE "words" IS NULL LIMIT 1);

-- log: inserts
CREATE TEMP TABLE sharp_tally_rows_1 ON COMMIT DROP AS SELECT "words" AS "words" FROM "public"."log" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
INSERT INTO "public"."log" ("words")
SELECT sharp_tally."words" FROM sharp_tally_rows_1 sharp_tally;
DROP TABLE sharp_tally_rows_1;

-- station: inserts
CREATE TEMP TABLE sharp_tally_rows_2 ON COMMIT DROP AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "public"."station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
INSERT INTO "public"."station" ("code", "na""me", "lead")
SELECT sharp_tally."code", sharp_tally."na""me", sharp_tally."lead" FROM sharp_tally_rows_2 sharp_tally WHERE 1 = 1
ON CONFLICT ("code") DO UPDATE SET "na""me" = excluded."na""me", "lead" = excluded."lead";
DROP TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE TEMP TABLE sharp_tally_rows_3 ON COMMIT DROP AS SELECT "code" AS "code", "lead" AS "lead_new" FROM "public"."station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', 'B2'),
  ('B2', 'B2');
UPDATE "public"."station"
SET "lead" = sharp_tally."lead_new"
FROM sharp_tally_rows_3 sharp_tally
WHERE "public"."station"."code" = sharp_tally."code";
DROP TABLE sharp_tally_rows_3;

-- station: updates
CREATE TEMP TABLE sharp_tally_rows_4 ON COMMIT DROP AS SELECT "code" AS "code", "na""me" AS "na""me_new" FROM "public"."station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', E'it''s a \\ and\na line');
UPDATE "public"."station"
SET "na""me" = sharp_tally."na""me_new"
FROM sharp_tally_rows_4 sharp_tally
WHERE "public"."station"."code" = sharp_tally."code";
DROP TABLE sharp_tally_rows_4;

-- reading: updates
CREATE TEMP TABLE sharp_tally_rows_5 ON COMMIT DROP AS SELECT "id" AS "id", "pressure" AS "pressure_new", "good" AS "good_new" FROM "public"."reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  ((-9223372036854775808), '5.0E-324'::double precision, FALSE);
UPDATE "public"."reading"
SET "pressure" = sharp_tally."pressure_new", "good" = sharp_tally."good_new"
FROM sharp_tally_rows_5 sharp_tally
WHERE "public"."reading"."id" = sharp_tally."id";
DROP TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE TEMP TABLE sharp_tally_rows_6 ON COMMIT DROP AS SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "public"."reading" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', (-1.250), '0.1'::double precision, TIMESTAMP '2026-03-29 02:30:00.001', DATE '2024-02-29', TIMESTAMPTZ '2026-10-25 01:30:00+00', '\x00ff'::bytea, '00000000-0000-0001-0000-000000000002', TRUE);
INSERT INTO "public"."reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good")
SELECT sharp_tally."id", sharp_tally."station", sharp_tally."level", sharp_tally."pressure", sharp_tally."taken", sharp_tally."on_day", sharp_tally."seen", sharp_tally."raw", sharp_tally."mark", sharp_tally."good" FROM sharp_tally_rows_6 sharp_tally WHERE 1 = 1
ON CONFLICT ("id") DO UPDATE SET "station" = excluded."station", "level" = excluded."level", "pressure" = excluded."pressure", "taken" = excluded."taken", "on_day" = excluded."on_day", "seen" = excluded."seen", "raw" = excluded."raw", "mark" = excluded."mark", "good" = excluded."good";
DROP TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE TEMP TABLE sharp_tally_rows_7 ON COMMIT DROP AS SELECT "code" AS "code", "lead" AS "lead_new" FROM "public"."station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', NULL);
UPDATE "public"."station"
SET "lead" = sharp_tally."lead_new"
FROM sharp_tally_rows_7 sharp_tally
WHERE "public"."station"."code" = sharp_tally."code";
DROP TABLE sharp_tally_rows_7;

-- station: deletes
CREATE TEMP TABLE sharp_tally_rows_8 ON COMMIT DROP AS SELECT "code" AS "code" FROM "public"."station" WHERE 1 = 0;
INSERT INTO sharp_tally_rows_8 VALUES
  ('C2'),
  ('C1');
DELETE FROM "public"."station"
WHERE EXISTS (SELECT 1 FROM sharp_tally_rows_8 sharp_tally WHERE "public"."station"."code" = sharp_tally."code");
DROP TABLE sharp_tally_rows_8;

COMMIT;
