-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

WHENEVER SQLERROR EXIT FAILURE ROLLBACK
WHENEVER OSERROR EXIT FAILURE ROLLBACK
SET EXITCOMMIT OFF
SET DEFINE OFF
SET SQLBLANKLINES ON
ALTER SESSION SET NLS_COMP = BINARY;
ALTER SESSION SET NLS_SORT = BINARY;
BEGIN
IF NOT (UPPER(SYS_CONTEXT('USERENV', 'SERVICE_NAME')) = UPPER('archive')) THEN RAISE_APPLICATION_ERROR(-20001, 'not the database that was compared, nothing was done'); END IF;
END;
/
SET CONSTRAINTS ALL DEFERRED;
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- log: deletes
BEGIN
DELETE FROM "log" WHERE "words" IS NULL AND ROWNUM = 1;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/

-- log: inserts
BEGIN
INSERT INTO "log" ("words") VALUES ('calm');
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/
BEGIN
INSERT INTO "log" ("words") VALUES ('calm');
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/

-- station: inserts
BEGIN
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B1', UNISTR('\540d'), NULL);
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B1'); END IF;
END;
/
BEGIN
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('B2', NULL, NULL);
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B2'); END IF;
END;
/

-- station: references within the table, now that all its rows are there
BEGIN
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B1'); END IF;
END;
/
BEGIN
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B2'); END IF;
END;
/

-- station: updates
BEGIN
UPDATE "station" SET "na""me" = UNISTR('it''s a \005c and\000aa line') WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1';
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code A1'); END IF;
END;
/

-- reading: updates
BEGIN
UPDATE "reading" SET "pressure" = 4.9E-324d, "good" = FALSE WHERE "id" = -9223372036854775808 AND "pressure" = 1.0E300d AND "good" IS NULL AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808'); END IF;
END;
/

-- reading: inserts
BEGIN
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (7, 'B1', -1.250, 0.1d, TIMESTAMP '2026-03-29 02:30:00.001', TO_DATE('2024-02-29', 'YYYY-MM-DD'), TIMESTAMP '2026-10-25 01:30:00 +00:00', HEXTORAW('00ff'), '00000000-0000-0001-0000-000000000002', TRUE);
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id 7'); END IF;
END;
/

-- station: references within the table that would keep rows from being deleted
BEGIN
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2';
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C1'); END IF;
END;
/

-- station: deletes
BEGIN
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C2'); END IF;
END;
/
BEGIN
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" IS NULL AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C1'); END IF;
END;
/

COMMIT;
SELECT '13 changes made and committed' AS result FROM DUAL;

-- UNDO
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

WHENEVER SQLERROR EXIT FAILURE ROLLBACK
WHENEVER OSERROR EXIT FAILURE ROLLBACK
SET EXITCOMMIT OFF
SET DEFINE OFF
SET SQLBLANKLINES ON
ALTER SESSION SET NLS_COMP = BINARY;
ALTER SESSION SET NLS_SORT = BINARY;
BEGIN
IF NOT (UPPER(SYS_CONTEXT('USERENV', 'SERVICE_NAME')) = UPPER('archive')) THEN RAISE_APPLICATION_ERROR(-20001, 'not the database that was compared, nothing was done'); END IF;
END;
/
SET CONSTRAINTS ALL DEFERRED;
SELECT "words" FROM "log" WHERE 1 = 0;
SELECT "code", "na""me", "lead" FROM "station" WHERE 1 = 0;
SELECT "id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good" FROM "reading" WHERE 1 = 0;

-- log: deletes
BEGIN
DELETE FROM "log" WHERE "words" = 'calm' AND ROWNUM = 1;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/
BEGIN
DELETE FROM "log" WHERE "words" = 'calm' AND ROWNUM = 1;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/

-- log: inserts
BEGIN
INSERT INTO "log" ("words") VALUES (NULL);
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/

-- station: inserts
BEGIN
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C1', NULL, NULL);
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C1'); END IF;
END;
/
BEGIN
INSERT INTO "station" ("code", "na""me", "lead") VALUES ('C2', ' ', 'C1');
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C2'); END IF;
END;
/

-- station: references within the table, now that all its rows are there
BEGIN
UPDATE "station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C1'); END IF;
END;
/

-- station: updates
BEGIN
UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = UNISTR('it''s a \005c and\000aa line') AND "lead" = 'A1';
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code A1'); END IF;
END;
/

-- reading: deletes
BEGIN
DELETE FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = 0.1d AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = TO_DATE('2024-02-29', 'YYYY-MM-DD') AND "seen" = TIMESTAMP '2026-10-25 01:30:00 +00:00' AND "raw" = HEXTORAW('00ff') AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = TRUE;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id 7'); END IF;
END;
/

-- reading: updates
BEGIN
UPDATE "reading" SET "pressure" = 1.0E300d, "good" = NULL WHERE "id" = -9223372036854775808 AND "pressure" = 4.9E-324d AND "good" = FALSE AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808'); END IF;
END;
/

-- station: references within the table that would keep rows from being deleted
BEGIN
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2';
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B1'); END IF;
END;
/
BEGIN
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2';
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B2'); END IF;
END;
/

-- station: deletes
BEGIN
DELETE FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B2'); END IF;
END;
/
BEGIN
DELETE FROM "station" WHERE "code" = 'B1' AND "na""me" = UNISTR('\540d') AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B1'); END IF;
END;
/

COMMIT;
SELECT '13 changes made and committed' AS result FROM DUAL;

-- MEND
-- ScriptForm[style=batch, guarded=true, oldValues=true, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

WHENEVER SQLERROR EXIT FAILURE ROLLBACK
WHENEVER OSERROR EXIT FAILURE ROLLBACK
SET EXITCOMMIT OFF
SET DEFINE OFF
SET SQLBLANKLINES ON
CREATE TABLE "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
ALTER SESSION SET NLS_COMP = BINARY;
ALTER SESSION SET NLS_SORT = BINARY;
BEGIN
IF NOT (UPPER(SYS_CONTEXT('USERENV', 'SERVICE_NAME')) = UPPER('archive')) THEN RAISE_APPLICATION_ERROR(-20001, 'not the database that was compared, nothing was done'); END IF;
END;
/
SET CONSTRAINTS ALL DEFERRED;
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
BEGIN
DELETE FROM "log" WHERE "words" IS NULL AND ROWNUM = 1;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/

-- log: inserts
BEGIN
INSERT INTO "log" ("words")
SELECT 'calm' FROM DUAL UNION ALL
SELECT 'calm' FROM DUAL;
IF NOT (SQL%ROWCOUNT = 2) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log, 2 rows'); END IF;
END;
/

-- station: inserts
BEGIN
INSERT INTO "station" ("code", "na""me", "lead")
SELECT 'B1', UNISTR('\540d'), NULL FROM DUAL UNION ALL
SELECT 'B2', NULL, NULL FROM DUAL;
IF NOT (SQL%ROWCOUNT = 2) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, 2 rows from code B1 on'); END IF;
END;
/

-- station: references within the table, now that all its rows are there
BEGIN
UPDATE "station" SET
  "lead" = CASE
    WHEN "code" = 'B1' THEN 'B2'
    WHEN "code" = 'B2' THEN 'B2' END
WHERE ("code" = 'B1' AND "lead" IS NULL)
   OR ("code" = 'B2' AND "lead" IS NULL);
IF NOT (SQL%ROWCOUNT = 2) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, 2 rows from code B1 on'); END IF;
END;
/

-- station: updates
-- na"me was NULL
BEGIN
UPDATE "station" SET "na""me" = UNISTR('it''s a \005c and\000aa line') WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1';
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code A1'); END IF;
END;
/

-- reading: updates
-- pressure was 1.0E300d, good was NULL
BEGIN
UPDATE "reading" SET "pressure" = 4.9E-324d, "good" = FALSE WHERE "id" = -9223372036854775808 AND "pressure" = 1.0E300d AND "good" IS NULL AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL;
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808'); END IF;
END;
/

-- reading: inserts
BEGIN
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (7, 'B1', -1.250, 0.1d, TIMESTAMP '2026-03-29 02:30:00.001', TO_DATE('2024-02-29', 'YYYY-MM-DD'), TIMESTAMP '2026-10-25 01:30:00 +00:00', HEXTORAW('00ff'), '00000000-0000-0001-0000-000000000002', TRUE);
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id 7'); END IF;
END;
/

-- station: references within the table that would keep rows from being deleted
-- lead was 'C2'
BEGIN
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2';
IF NOT (SQL%ROWCOUNT = 1) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C1'); END IF;
END;
/

-- station: deletes
BEGIN
DELETE FROM "station"
WHERE ("code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1')
   OR ("code" = 'C1' AND "na""me" IS NULL AND "lead" IS NULL);
IF NOT (SQL%ROWCOUNT = 2) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, 2 rows from code C2 on'); END IF;
END;
/

COMMIT;
SELECT '13 changes made and committed' AS result FROM DUAL;

-- MEND
-- ScriptForm[style=batch, guarded=false, oldValues=true, forClient=false, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

CREATE TABLE "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0;
CREATE TABLE "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0;
CREATE TABLE "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0;
ALTER SESSION SET NLS_COMP = BINARY;
ALTER SESSION SET NLS_SORT = BINARY;
BEGIN
IF NOT (UPPER(SYS_CONTEXT('USERENV', 'SERVICE_NAME')) = UPPER('archive')) THEN RAISE_APPLICATION_ERROR(-20001, 'not the database that was compared, nothing was done'); END IF;
END;
/
SET CONSTRAINTS ALL DEFERRED;

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
DELETE FROM "log" WHERE "words" IS NULL AND ROWNUM = 1;

-- log: inserts
INSERT INTO "log" ("words")
SELECT 'calm' FROM DUAL UNION ALL
SELECT 'calm' FROM DUAL;

-- station: inserts
INSERT INTO "station" ("code", "na""me", "lead")
SELECT 'B1', UNISTR('\540d'), NULL FROM DUAL UNION ALL
SELECT 'B2', NULL, NULL FROM DUAL;

-- station: references within the table, now that all its rows are there
UPDATE "station" SET
  "lead" = CASE
    WHEN "code" = 'B1' THEN 'B2'
    WHEN "code" = 'B2' THEN 'B2' END
WHERE ("code" = 'B1')
   OR ("code" = 'B2');

-- station: updates
-- na"me was NULL
UPDATE "station" SET "na""me" = UNISTR('it''s a \005c and\000aa line') WHERE "code" = 'A1';

-- reading: updates
-- pressure was 1.0E300d, good was NULL
UPDATE "reading" SET "pressure" = 4.9E-324d, "good" = FALSE WHERE "id" = -9223372036854775808;

-- reading: inserts
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (7, 'B1', -1.250, 0.1d, TIMESTAMP '2026-03-29 02:30:00.001', TO_DATE('2024-02-29', 'YYYY-MM-DD'), TIMESTAMP '2026-10-25 01:30:00 +00:00', HEXTORAW('00ff'), '00000000-0000-0001-0000-000000000002', TRUE);

-- station: references within the table that would keep rows from being deleted
-- lead was 'C2'
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1';

-- station: deletes
DELETE FROM "station"
WHERE ("code" = 'C2')
   OR ("code" = 'C1');

COMMIT;
