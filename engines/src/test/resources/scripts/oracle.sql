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

-- was all of it done before?
BEGIN
DBMS_APPLICATION_INFO.SET_CLIENT_INFO('0');
END;
/
BEGIN
FOR counted IN (SELECT TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) + (SELECT COUNT(*) FROM "station" WHERE ("code" = 'A1' AND "na""me" = UNISTR('it''s a \005c and\000aa line'))
   OR ("code" = 'B1' AND "na""me" = UNISTR('\540d') AND "lead" = 'B2')
   OR ("code" = 'B2' AND "na""me" IS NULL AND "lead" = 'B2')) AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP;
END;
/
BEGIN
FOR counted IN (SELECT TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) + 2 - (SELECT COUNT(*) FROM "station" WHERE ("code" = 'C1')
   OR ("code" = 'C2')) AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP;
END;
/
BEGIN
FOR counted IN (SELECT TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) + (SELECT COUNT(*) FROM "reading" WHERE ("id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = 0.1d AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = TO_DATE('2024-02-29', 'YYYY-MM-DD') AND "seen" = TIMESTAMP '2026-10-25 01:30:00 +00:00' AND "raw" = HEXTORAW('00ff') AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = TRUE)
   OR ("id" = -9223372036854775808 AND "pressure" = 4.9E-324d AND "good" = FALSE AND CASE WHEN "pressure" = 1.0E300d AND "good" IS NULL THEN 1 ELSE 0 END = 0)) AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP;
END;
/
BEGIN
IF NOT (TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) IN (0, 10)) THEN RAISE_APPLICATION_ERROR(-20001, 'some rows are as this would make them, so nothing was done'); END IF;
END;
/
BEGIN
DBMS_APPLICATION_INFO.SET_CLIENT_INFO(CASE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) WHEN 10 THEN '0' ELSE '1' END);
END;
/

-- log: deletes
BEGIN
DELETE FROM "log" WHERE "words" IS NULL AND TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1 AND ROWNUM = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/

-- log: inserts
BEGIN
INSERT INTO "log" ("words") SELECT 'calm' FROM DUAL WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/
BEGIN
INSERT INTO "log" ("words") SELECT 'calm' FROM DUAL WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/

-- station: inserts
BEGIN
INSERT INTO "station" ("code", "na""me", "lead") SELECT 'B1', UNISTR('\540d'), NULL FROM DUAL WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B1'); END IF;
END;
/
BEGIN
INSERT INTO "station" ("code", "na""me", "lead") SELECT 'B2', NULL, NULL FROM DUAL WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B2'); END IF;
END;
/

-- station: references within the table, now that all its rows are there
BEGIN
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B1' AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B1'); END IF;
END;
/
BEGIN
UPDATE "station" SET "lead" = 'B2' WHERE "code" = 'B2' AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B2'); END IF;
END;
/

-- station: updates
BEGIN
UPDATE "station" SET "na""me" = UNISTR('it''s a \005c and\000aa line') WHERE "code" = 'A1' AND "na""me" IS NULL AND "lead" = 'A1';
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code A1'); END IF;
END;
/

-- reading: updates
BEGIN
UPDATE "reading" SET "pressure" = 4.9E-324d, "good" = FALSE WHERE "id" = -9223372036854775808 AND "pressure" = 1.0E300d AND "good" IS NULL AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808'); END IF;
END;
/

-- reading: inserts
BEGIN
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") SELECT 7, 'B1', -1.250, 0.1d, TIMESTAMP '2026-03-29 02:30:00.001', TO_DATE('2024-02-29', 'YYYY-MM-DD'), TIMESTAMP '2026-10-25 01:30:00 +00:00', HEXTORAW('00ff'), '00000000-0000-0001-0000-000000000002', TRUE FROM DUAL WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id 7'); END IF;
END;
/

-- station: references within the table that would keep rows from being deleted
BEGIN
UPDATE "station" SET "lead" = NULL WHERE "code" = 'C1' AND "lead" = 'C2';
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C1'); END IF;
END;
/

-- station: deletes
BEGIN
DELETE FROM "station" WHERE "code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1';
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C2'); END IF;
END;
/
BEGIN
DELETE FROM "station" WHERE "code" = 'C1' AND "na""me" IS NULL AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C1'); END IF;
END;
/

COMMIT;
SELECT CASE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM DUAL;
BEGIN
DBMS_APPLICATION_INFO.SET_CLIENT_INFO(NULL);
END;
/

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

-- was all of it done before?
BEGIN
DBMS_APPLICATION_INFO.SET_CLIENT_INFO('0');
END;
/
BEGIN
FOR counted IN (SELECT TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) + (SELECT COUNT(*) FROM "station" WHERE ("code" = 'A1' AND "na""me" IS NULL)
   OR ("code" = 'C1' AND "na""me" IS NULL AND "lead" = 'C2')
   OR ("code" = 'C2' AND "na""me" = ' ' AND "lead" = 'C1')) AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP;
END;
/
BEGIN
FOR counted IN (SELECT TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) + 2 - (SELECT COUNT(*) FROM "station" WHERE ("code" = 'B1')
   OR ("code" = 'B2')) AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP;
END;
/
BEGIN
FOR counted IN (SELECT TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) + (SELECT COUNT(*) FROM "reading" WHERE "id" = -9223372036854775808 AND "pressure" = 1.0E300d AND "good" IS NULL AND CASE WHEN "pressure" = 4.9E-324d AND "good" = FALSE THEN 1 ELSE 0 END = 0) AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP;
END;
/
BEGIN
FOR counted IN (SELECT TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) + 1 - (SELECT COUNT(*) FROM "reading" WHERE "id" = 7) AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP;
END;
/
BEGIN
IF NOT (TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) IN (0, 10)) THEN RAISE_APPLICATION_ERROR(-20001, 'some rows are as this would make them, so nothing was done'); END IF;
END;
/
BEGIN
DBMS_APPLICATION_INFO.SET_CLIENT_INFO(CASE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) WHEN 10 THEN '0' ELSE '1' END);
END;
/

-- log: deletes
BEGIN
DELETE FROM "log" WHERE "words" = 'calm' AND TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1 AND ROWNUM = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/
BEGIN
DELETE FROM "log" WHERE "words" = 'calm' AND TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1 AND ROWNUM = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/

-- log: inserts
BEGIN
INSERT INTO "log" ("words") SELECT NULL FROM DUAL WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/

-- station: inserts
BEGIN
INSERT INTO "station" ("code", "na""me", "lead") SELECT 'C1', NULL, NULL FROM DUAL WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C1'); END IF;
END;
/
BEGIN
INSERT INTO "station" ("code", "na""me", "lead") SELECT 'C2', ' ', 'C1' FROM DUAL WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C2'); END IF;
END;
/

-- station: references within the table, now that all its rows are there
BEGIN
UPDATE "station" SET "lead" = 'C2' WHERE "code" = 'C1' AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C1'); END IF;
END;
/

-- station: updates
BEGIN
UPDATE "station" SET "na""me" = NULL WHERE "code" = 'A1' AND "na""me" = UNISTR('it''s a \005c and\000aa line') AND "lead" = 'A1';
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code A1'); END IF;
END;
/

-- reading: deletes
BEGIN
DELETE FROM "reading" WHERE "id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = 0.1d AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = TO_DATE('2024-02-29', 'YYYY-MM-DD') AND "seen" = TIMESTAMP '2026-10-25 01:30:00 +00:00' AND "raw" = HEXTORAW('00ff') AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = TRUE;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id 7'); END IF;
END;
/

-- reading: updates
BEGIN
UPDATE "reading" SET "pressure" = 1.0E300d, "good" = NULL WHERE "id" = -9223372036854775808 AND "pressure" = 4.9E-324d AND "good" = FALSE AND "station" = 'A1' AND "level" = 1.500 AND "on_day" IS NULL;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808'); END IF;
END;
/

-- station: references within the table that would keep rows from being deleted
BEGIN
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B1' AND "lead" = 'B2';
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B1'); END IF;
END;
/
BEGIN
UPDATE "station" SET "lead" = NULL WHERE "code" = 'B2' AND "lead" = 'B2';
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B2'); END IF;
END;
/

-- station: deletes
BEGIN
DELETE FROM "station" WHERE "code" = 'B2' AND "na""me" IS NULL AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B2'); END IF;
END;
/
BEGIN
DELETE FROM "station" WHERE "code" = 'B1' AND "na""me" = UNISTR('\540d') AND "lead" IS NULL;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code B1'); END IF;
END;
/

COMMIT;
SELECT CASE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM DUAL;
BEGIN
DBMS_APPLICATION_INFO.SET_CLIENT_INFO(NULL);
END;
/

-- MEND
-- ScriptForm[style=merge, guarded=true, oldValues=true, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

WHENEVER SQLERROR EXIT FAILURE ROLLBACK
WHENEVER OSERROR EXIT FAILURE ROLLBACK
SET EXITCOMMIT OFF
SET DEFINE OFF
SET SQLBLANKLINES ON
BEGIN
EXECUTE IMMEDIATE 'CREATE TABLE "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0';
EXCEPTION WHEN OTHERS THEN IF SQLCODE <> -955 THEN RAISE; END IF;
END;
/
BEGIN
EXECUTE IMMEDIATE 'CREATE TABLE "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0';
EXCEPTION WHEN OTHERS THEN IF SQLCODE <> -955 THEN RAISE; END IF;
END;
/
BEGIN
EXECUTE IMMEDIATE 'CREATE TABLE "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0';
EXCEPTION WHEN OTHERS THEN IF SQLCODE <> -955 THEN RAISE; END IF;
END;
/
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

-- was all of it done before?
BEGIN
DBMS_APPLICATION_INFO.SET_CLIENT_INFO('0');
END;
/
BEGIN
FOR counted IN (SELECT TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) + (SELECT COUNT(*) FROM "station" WHERE ("code" = 'A1' AND "na""me" = UNISTR('it''s a \005c and\000aa line'))
   OR ("code" = 'B1' AND "na""me" = UNISTR('\540d') AND "lead" = 'B2')
   OR ("code" = 'B2' AND "na""me" IS NULL AND "lead" = 'B2')) AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP;
END;
/
BEGIN
FOR counted IN (SELECT TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) + 2 - (SELECT COUNT(*) FROM "station" WHERE ("code" = 'C1')
   OR ("code" = 'C2')) AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP;
END;
/
BEGIN
FOR counted IN (SELECT TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) + (SELECT COUNT(*) FROM "reading" WHERE ("id" = 7 AND "station" = 'B1' AND "level" = -1.250 AND "pressure" = 0.1d AND "taken" = TIMESTAMP '2026-03-29 02:30:00.001' AND "on_day" = TO_DATE('2024-02-29', 'YYYY-MM-DD') AND "seen" = TIMESTAMP '2026-10-25 01:30:00 +00:00' AND "raw" = HEXTORAW('00ff') AND "mark" = '00000000-0000-0001-0000-000000000002' AND "good" = TRUE)
   OR ("id" = -9223372036854775808 AND "pressure" = 4.9E-324d AND "good" = FALSE AND CASE WHEN "pressure" = 1.0E300d AND "good" IS NULL THEN 1 ELSE 0 END = 0)) AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP;
END;
/
BEGIN
IF NOT (TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) IN (0, 10)) THEN RAISE_APPLICATION_ERROR(-20001, 'some rows are as this would make them, so nothing was done'); END IF;
END;
/
BEGIN
DBMS_APPLICATION_INFO.SET_CLIENT_INFO(CASE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) WHEN 10 THEN '0' ELSE '1' END);
END;
/

-- rows that are changed or deleted, as they are now
INSERT INTO "log_tally_was" SELECT * FROM "log"
WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1 AND (("words" IS NULL));
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1 AND (("code" = 'A1'));
INSERT INTO "reading_tally_was" SELECT * FROM "reading"
WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1 AND (("id" = -9223372036854775808));
INSERT INTO "station_tally_was" SELECT * FROM "station"
WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1 AND (("code" = 'C2')
   OR ("code" = 'C1'));

-- log: deletes
BEGIN
DELETE FROM "log" WHERE "words" IS NULL AND TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1 AND ROWNUM = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log'); END IF;
END;
/

-- log: inserts
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_1 ON COMMIT PRESERVE DEFINITION AS SELECT "words" AS "words" FROM "log" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_1
SELECT 'calm' FROM DUAL UNION ALL
SELECT 'calm' FROM DUAL;
BEGIN
INSERT INTO "log" ("words")
SELECT sharp_tally."words" FROM ORA$PTT_sharp_tally_rows_1 sharp_tally
WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = 2 * TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: log, 2 rows'); END IF;
END;
/
DROP TABLE ORA$PTT_sharp_tally_rows_1;

-- station: inserts
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_2 ON COMMIT PRESERVE DEFINITION AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_2
SELECT 'B1', UNISTR('\540d'), NULL FROM DUAL UNION ALL
SELECT 'B2', NULL, NULL FROM DUAL;
BEGIN
INSERT INTO "station" ("code", "na""me", "lead")
SELECT sharp_tally."code", sharp_tally."na""me", sharp_tally."lead" FROM ORA$PTT_sharp_tally_rows_2 sharp_tally
WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = 2 * TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, 2 rows from code B1 on'); END IF;
END;
/
DROP TABLE ORA$PTT_sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_3 ON COMMIT PRESERVE DEFINITION AS SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_3
SELECT 'B1', NULL, 'B2' FROM DUAL UNION ALL
SELECT 'B2', NULL, 'B2' FROM DUAL;
BEGIN
MERGE INTO "station" USING ORA$PTT_sharp_tally_rows_3 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new"
  WHERE DECODE("station"."lead", sharp_tally."lead_was", 1, 0) = 1;
IF NOT (SQL%ROWCOUNT = 2 * TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, 2 rows from code B1 on'); END IF;
END;
/
DROP TABLE ORA$PTT_sharp_tally_rows_3;

-- station: updates
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_4 ON COMMIT PRESERVE DEFINITION AS SELECT "code" AS "code", "na""me" AS "na""me_was", "lead" AS "lead_was", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_4
SELECT 'A1', NULL, 'A1', UNISTR('it''s a \005c and\000aa line') FROM DUAL;
BEGIN
MERGE INTO "station" USING ORA$PTT_sharp_tally_rows_4 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "na""me" = sharp_tally."na""me_new"
  WHERE DECODE("station"."na""me", sharp_tally."na""me_was", 1, 0) = 1 AND DECODE("station"."lead", sharp_tally."lead_was", 1, 0) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code A1'); END IF;
END;
/
DROP TABLE ORA$PTT_sharp_tally_rows_4;

-- reading: updates
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_5 ON COMMIT PRESERVE DEFINITION AS SELECT "id" AS "id", "pressure" AS "pressure_was", "good" AS "good_was", "station" AS "station_was", "level" AS "level_was", "on_day" AS "on_day_was", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_5
SELECT -9223372036854775808, 1.0E300d, NULL, 'A1', 1.500, NULL, 4.9E-324d, FALSE FROM DUAL;
BEGIN
MERGE INTO "reading" USING ORA$PTT_sharp_tally_rows_5 sharp_tally
  ON ("reading"."id" = sharp_tally."id")
WHEN MATCHED THEN UPDATE SET "pressure" = sharp_tally."pressure_new", "good" = sharp_tally."good_new"
  WHERE DECODE("reading"."pressure", sharp_tally."pressure_was", 1, 0) = 1 AND DECODE("reading"."good", sharp_tally."good_was", 1, 0) = 1 AND DECODE("reading"."station", sharp_tally."station_was", 1, 0) = 1 AND DECODE("reading"."level", sharp_tally."level_was", 1, 0) = 1 AND DECODE("reading"."on_day", sharp_tally."on_day_was", 1, 0) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808'); END IF;
END;
/
DROP TABLE ORA$PTT_sharp_tally_rows_5;

-- reading: inserts
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_6 ON COMMIT PRESERVE DEFINITION AS SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_6
SELECT 7, 'B1', -1.250, 0.1d, TIMESTAMP '2026-03-29 02:30:00.001', TO_DATE('2024-02-29', 'YYYY-MM-DD'), TIMESTAMP '2026-10-25 01:30:00 +00:00', HEXTORAW('00ff'), '00000000-0000-0001-0000-000000000002', TRUE FROM DUAL;
BEGIN
INSERT INTO "reading" ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good")
SELECT sharp_tally."id", sharp_tally."station", sharp_tally."level", sharp_tally."pressure", sharp_tally."taken", sharp_tally."on_day", sharp_tally."seen", sharp_tally."raw", sharp_tally."mark", sharp_tally."good" FROM ORA$PTT_sharp_tally_rows_6 sharp_tally
WHERE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: reading, id 7'); END IF;
END;
/
DROP TABLE ORA$PTT_sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_7 ON COMMIT PRESERVE DEFINITION AS SELECT "code" AS "code", "lead" AS "lead_was", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_7
SELECT 'C1', 'C2', NULL FROM DUAL;
BEGIN
MERGE INTO "station" USING ORA$PTT_sharp_tally_rows_7 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new"
  WHERE DECODE("station"."lead", sharp_tally."lead_was", 1, 0) = 1;
IF NOT (SQL%ROWCOUNT = TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, code C1'); END IF;
END;
/
DROP TABLE ORA$PTT_sharp_tally_rows_7;

-- station: deletes
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_8 ON COMMIT PRESERVE DEFINITION AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_8
SELECT 'C2', ' ', 'C1' FROM DUAL UNION ALL
SELECT 'C1', NULL, NULL FROM DUAL;
BEGIN
DELETE FROM "station"
WHERE EXISTS (SELECT 1 FROM ORA$PTT_sharp_tally_rows_8 sharp_tally WHERE "station"."code" = sharp_tally."code" AND DECODE("station"."na""me", sharp_tally."na""me", 1, 0) = 1 AND DECODE("station"."lead", sharp_tally."lead", 1, 0) = 1);
IF NOT (SQL%ROWCOUNT = 2 * TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))) THEN RAISE_APPLICATION_ERROR(-20001, 'a row had changed since it was compared, so nothing was done: station, 2 rows from code C2 on'); END IF;
END;
/
DROP TABLE ORA$PTT_sharp_tally_rows_8;

COMMIT;
SELECT CASE TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO')) WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM DUAL;
BEGIN
DBMS_APPLICATION_INFO.SET_CLIENT_INFO(NULL);
END;
/

-- MEND
-- ScriptForm[style=merge, guarded=false, oldValues=true, forClient=false, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

BEGIN
EXECUTE IMMEDIATE 'CREATE TABLE "log_tally_was" AS SELECT * FROM "log" WHERE 1 = 0';
EXCEPTION WHEN OTHERS THEN IF SQLCODE <> -955 THEN RAISE; END IF;
END;
/
BEGIN
EXECUTE IMMEDIATE 'CREATE TABLE "station_tally_was" AS SELECT * FROM "station" WHERE 1 = 0';
EXCEPTION WHEN OTHERS THEN IF SQLCODE <> -955 THEN RAISE; END IF;
END;
/
BEGIN
EXECUTE IMMEDIATE 'CREATE TABLE "reading_tally_was" AS SELECT * FROM "reading" WHERE 1 = 0';
EXCEPTION WHEN OTHERS THEN IF SQLCODE <> -955 THEN RAISE; END IF;
END;
/
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
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_1 ON COMMIT PRESERVE DEFINITION AS SELECT "words" AS "words" FROM "log" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_1
SELECT 'calm' FROM DUAL UNION ALL
SELECT 'calm' FROM DUAL;
INSERT INTO "log" ("words")
SELECT sharp_tally."words" FROM ORA$PTT_sharp_tally_rows_1 sharp_tally;
DROP TABLE ORA$PTT_sharp_tally_rows_1;

-- station: inserts
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_2 ON COMMIT PRESERVE DEFINITION AS SELECT "code" AS "code", "na""me" AS "na""me", "lead" AS "lead" FROM "station" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_2
SELECT 'B1', UNISTR('\540d'), NULL FROM DUAL UNION ALL
SELECT 'B2', NULL, NULL FROM DUAL;
MERGE INTO "station" USING ORA$PTT_sharp_tally_rows_2 sharp_tally
  ON (DECODE("station"."code", sharp_tally."code", 1, 0) = 1)
WHEN MATCHED THEN UPDATE SET "na""me" = sharp_tally."na""me", "lead" = sharp_tally."lead"
WHEN NOT MATCHED THEN INSERT ("code", "na""me", "lead") VALUES (sharp_tally."code", sharp_tally."na""me", sharp_tally."lead");
DROP TABLE ORA$PTT_sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_3 ON COMMIT PRESERVE DEFINITION AS SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_3
SELECT 'B1', 'B2' FROM DUAL UNION ALL
SELECT 'B2', 'B2' FROM DUAL;
MERGE INTO "station" USING ORA$PTT_sharp_tally_rows_3 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new";
DROP TABLE ORA$PTT_sharp_tally_rows_3;

-- station: updates
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_4 ON COMMIT PRESERVE DEFINITION AS SELECT "code" AS "code", "na""me" AS "na""me_new" FROM "station" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_4
SELECT 'A1', UNISTR('it''s a \005c and\000aa line') FROM DUAL;
MERGE INTO "station" USING ORA$PTT_sharp_tally_rows_4 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "na""me" = sharp_tally."na""me_new";
DROP TABLE ORA$PTT_sharp_tally_rows_4;

-- reading: updates
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_5 ON COMMIT PRESERVE DEFINITION AS SELECT "id" AS "id", "pressure" AS "pressure_new", "good" AS "good_new" FROM "reading" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_5
SELECT -9223372036854775808, 4.9E-324d, FALSE FROM DUAL;
MERGE INTO "reading" USING ORA$PTT_sharp_tally_rows_5 sharp_tally
  ON ("reading"."id" = sharp_tally."id")
WHEN MATCHED THEN UPDATE SET "pressure" = sharp_tally."pressure_new", "good" = sharp_tally."good_new";
DROP TABLE ORA$PTT_sharp_tally_rows_5;

-- reading: inserts
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_6 ON COMMIT PRESERVE DEFINITION AS SELECT "id" AS "id", "station" AS "station", "level" AS "level", "pressure" AS "pressure", "taken" AS "taken", "on_day" AS "on_day", "seen" AS "seen", "raw" AS "raw", "mark" AS "mark", "good" AS "good" FROM "reading" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_6
SELECT 7, 'B1', -1.250, 0.1d, TIMESTAMP '2026-03-29 02:30:00.001', TO_DATE('2024-02-29', 'YYYY-MM-DD'), TIMESTAMP '2026-10-25 01:30:00 +00:00', HEXTORAW('00ff'), '00000000-0000-0001-0000-000000000002', TRUE FROM DUAL;
MERGE INTO "reading" USING ORA$PTT_sharp_tally_rows_6 sharp_tally
  ON (DECODE("reading"."id", sharp_tally."id", 1, 0) = 1)
WHEN MATCHED THEN UPDATE SET "station" = sharp_tally."station", "level" = sharp_tally."level", "pressure" = sharp_tally."pressure", "taken" = sharp_tally."taken", "on_day" = sharp_tally."on_day", "seen" = sharp_tally."seen", "raw" = sharp_tally."raw", "mark" = sharp_tally."mark", "good" = sharp_tally."good"
WHEN NOT MATCHED THEN INSERT ("id", "station", "level", "pressure", "taken", "on_day", "seen", "raw", "mark", "good") VALUES (sharp_tally."id", sharp_tally."station", sharp_tally."level", sharp_tally."pressure", sharp_tally."taken", sharp_tally."on_day", sharp_tally."seen", sharp_tally."raw", sharp_tally."mark", sharp_tally."good");
DROP TABLE ORA$PTT_sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_7 ON COMMIT PRESERVE DEFINITION AS SELECT "code" AS "code", "lead" AS "lead_new" FROM "station" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_7
SELECT 'C1', NULL FROM DUAL;
MERGE INTO "station" USING ORA$PTT_sharp_tally_rows_7 sharp_tally
  ON ("station"."code" = sharp_tally."code")
WHEN MATCHED THEN UPDATE SET "lead" = sharp_tally."lead_new";
DROP TABLE ORA$PTT_sharp_tally_rows_7;

-- station: deletes
CREATE PRIVATE TEMPORARY TABLE ORA$PTT_sharp_tally_rows_8 ON COMMIT PRESERVE DEFINITION AS SELECT "code" AS "code" FROM "station" WHERE 1 = 0;
INSERT INTO ORA$PTT_sharp_tally_rows_8
SELECT 'C2' FROM DUAL UNION ALL
SELECT 'C1' FROM DUAL;
DELETE FROM "station"
WHERE EXISTS (SELECT 1 FROM ORA$PTT_sharp_tally_rows_8 sharp_tally WHERE "station"."code" = sharp_tally."code");
DROP TABLE ORA$PTT_sharp_tally_rows_8;

COMMIT;
