-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

SET NAMES utf8mb4;
SET time_zone = '+00:00';
SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ;
SET SESSION sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO';
-- @w names the first rows that are not as they were
DROP TEMPORARY TABLE IF EXISTS sharp_tally_check;
CREATE TEMPORARY TABLE sharp_tally_check (`a row had changed since it was compared, so nothing was done` INT NOT NULL);
START TRANSACTION;
SET @w = '';
DROP TEMPORARY TABLE IF EXISTS sharp_tally_place;
CREATE TEMPORARY TABLE sharp_tally_place (`not the database that was compared, nothing was done` INT NOT NULL);
INSERT INTO sharp_tally_place VALUES (IF(DATABASE() = 'archive', 1, NULL));
SELECT `words` FROM `log` WHERE 1 = 0;
SELECT `code`, `na"me`, `lead` FROM `station` WHERE 1 = 0;
SELECT `id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good` FROM `reading` WHERE 1 = 0;

-- was all of it done before?
SET @made = 0;
SET @made = @made + (SELECT COUNT(*) FROM `station` WHERE (`code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `na"me` = 'it''s a \\ and\na line' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('it''s a \\ and\na line' AS BINARY))
   OR (`code` = 'B1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `na"me` = '名' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('名' AS BINARY) AND `lead` = 'B2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY))
   OR (`code` = 'B2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY) AND `na"me` IS NULL AND `lead` = 'B2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY)));
SET @made = @made + 2 - (SELECT COUNT(*) FROM `station` WHERE (`code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY))
   OR (`code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY)));
SET @made = @made + (SELECT COUNT(*) FROM `reading` WHERE (`id` = 7 AND `station` = 'B1' AND CAST(CONVERT(`station` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `level` = -1.250 AND `pressure` = 0.1E0 AND `taken` = '2026-03-29 02:30:00.001' AND `on_day` = '2024-02-29' AND `seen` = '2026-10-25 01:30:00' AND `raw` = x'00ff' AND `mark` = '00000000-0000-0001-0000-000000000002' AND `good` = 1)
   OR (`id` = -9223372036854775808 AND `pressure` = 4.9E-324 AND `good` = 0 AND CASE WHEN `pressure` = 1.0E300 AND `good` IS NULL THEN 1 ELSE 0 END = 0));
SELECT CONCAT(@made, ' of 10 rows are as this would make them') AS stopped_at FROM DUAL WHERE @made NOT IN (0, 10);
DROP TEMPORARY TABLE IF EXISTS sharp_tally_made;
CREATE TEMPORARY TABLE sharp_tally_made (`some rows are as this would make them, so nothing was done` INT NOT NULL);
INSERT INTO sharp_tally_made VALUES (IF(@made IN (0, 10), 1, NULL));
SET @go = CASE WHEN @made = 10 THEN 0 ELSE 1 END;

-- log: deletes
DELETE FROM `log` WHERE `words` IS NULL AND @go = 1 LIMIT 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'log', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- log: inserts
INSERT INTO `log` (`words`) SELECT 'calm' FROM DUAL WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'log', @w);
INSERT INTO `log` (`words`) SELECT 'calm' FROM DUAL WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'log', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- station: inserts
INSERT INTO `station` (`code`, `na"me`, `lead`) SELECT 'B1', '名', NULL FROM DUAL WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code B1', @w);
INSERT INTO `station` (`code`, `na"me`, `lead`) SELECT 'B2', NULL, NULL FROM DUAL WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code B2', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- station: references within the table, now that all its rows are there
UPDATE `station` SET `lead` = 'B2' WHERE `code` = 'B1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `lead` IS NULL; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code B1', @w);
UPDATE `station` SET `lead` = 'B2' WHERE `code` = 'B2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY) AND `lead` IS NULL; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code B2', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- station: updates
UPDATE `station` SET `na"me` = 'it''s a \\ and\na line' WHERE `code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `na"me` IS NULL AND `lead` = 'A1' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY); SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code A1', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- reading: updates
UPDATE `reading` SET `pressure` = 4.9E-324, `good` = 0 WHERE `id` = -9223372036854775808 AND `pressure` = 1.0E300 AND `good` IS NULL AND `station` = 'A1' AND CAST(CONVERT(`station` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `level` = 1.500 AND `on_day` IS NULL; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'reading, id -9223372036854775808', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- reading: inserts
INSERT INTO `reading` (`id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good`) SELECT 7, 'B1', -1.250, 0.1E0, '2026-03-29 02:30:00.001', '2024-02-29', '2026-10-25 01:30:00', x'00ff', '00000000-0000-0001-0000-000000000002', 1 FROM DUAL WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'reading, id 7', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- station: references within the table that would keep rows from being deleted
UPDATE `station` SET `lead` = NULL WHERE `code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY) AND `lead` = 'C2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY); SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code C1', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- station: deletes
DELETE FROM `station` WHERE `code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY) AND `na"me` = ' ' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST(' ' AS BINARY) AND `lead` = 'C1' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY); SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code C2', @w);
DELETE FROM `station` WHERE `code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY) AND `na"me` = '' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('' AS BINARY) AND `lead` IS NULL; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code C1', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

COMMIT;
SELECT CASE @go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result;

-- UNDO
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

SET NAMES utf8mb4;
SET time_zone = '+00:00';
SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ;
SET SESSION sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO';
-- @w names the first rows that are not as they were
DROP TEMPORARY TABLE IF EXISTS sharp_tally_check;
CREATE TEMPORARY TABLE sharp_tally_check (`a row had changed since it was compared, so nothing was done` INT NOT NULL);
START TRANSACTION;
SET @w = '';
DROP TEMPORARY TABLE IF EXISTS sharp_tally_place;
CREATE TEMPORARY TABLE sharp_tally_place (`not the database that was compared, nothing was done` INT NOT NULL);
INSERT INTO sharp_tally_place VALUES (IF(DATABASE() = 'archive', 1, NULL));
SELECT `words` FROM `log` WHERE 1 = 0;
SELECT `code`, `na"me`, `lead` FROM `station` WHERE 1 = 0;
SELECT `id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good` FROM `reading` WHERE 1 = 0;

-- was all of it done before?
SET @made = 0;
SET @made = @made + (SELECT COUNT(*) FROM `station` WHERE (`code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `na"me` IS NULL)
   OR (`code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY) AND `na"me` = '' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('' AS BINARY) AND `lead` = 'C2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY))
   OR (`code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY) AND `na"me` = ' ' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST(' ' AS BINARY) AND `lead` = 'C1' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY)));
SET @made = @made + 2 - (SELECT COUNT(*) FROM `station` WHERE (`code` = 'B1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY))
   OR (`code` = 'B2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY)));
SET @made = @made + (SELECT COUNT(*) FROM `reading` WHERE `id` = -9223372036854775808 AND `pressure` = 1.0E300 AND `good` IS NULL AND CASE WHEN `pressure` = 4.9E-324 AND `good` = 0 THEN 1 ELSE 0 END = 0);
SET @made = @made + 1 - (SELECT COUNT(*) FROM `reading` WHERE `id` = 7);
SELECT CONCAT(@made, ' of 10 rows are as this would make them') AS stopped_at FROM DUAL WHERE @made NOT IN (0, 10);
DROP TEMPORARY TABLE IF EXISTS sharp_tally_made;
CREATE TEMPORARY TABLE sharp_tally_made (`some rows are as this would make them, so nothing was done` INT NOT NULL);
INSERT INTO sharp_tally_made VALUES (IF(@made IN (0, 10), 1, NULL));
SET @go = CASE WHEN @made = 10 THEN 0 ELSE 1 END;

-- log: deletes
DELETE FROM `log` WHERE `words` = 'calm' AND CAST(CONVERT(`words` USING utf8mb4) AS BINARY) = CAST('calm' AS BINARY) AND @go = 1 LIMIT 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'log', @w);
DELETE FROM `log` WHERE `words` = 'calm' AND CAST(CONVERT(`words` USING utf8mb4) AS BINARY) = CAST('calm' AS BINARY) AND @go = 1 LIMIT 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'log', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- log: inserts
INSERT INTO `log` (`words`) SELECT NULL FROM DUAL WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'log', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- station: inserts
INSERT INTO `station` (`code`, `na"me`, `lead`) SELECT 'C1', '', NULL FROM DUAL WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code C1', @w);
INSERT INTO `station` (`code`, `na"me`, `lead`) SELECT 'C2', ' ', 'C1' FROM DUAL WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code C2', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- station: references within the table, now that all its rows are there
UPDATE `station` SET `lead` = 'C2' WHERE `code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY) AND `lead` IS NULL; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code C1', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- station: updates
UPDATE `station` SET `na"me` = NULL WHERE `code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `na"me` = 'it''s a \\ and\na line' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('it''s a \\ and\na line' AS BINARY) AND `lead` = 'A1' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY); SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code A1', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- reading: deletes
DELETE FROM `reading` WHERE `id` = 7 AND `station` = 'B1' AND CAST(CONVERT(`station` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `level` = -1.250 AND `pressure` = 0.1E0 AND `taken` = '2026-03-29 02:30:00.001' AND `on_day` = '2024-02-29' AND `seen` = '2026-10-25 01:30:00' AND `raw` = x'00ff' AND `mark` = '00000000-0000-0001-0000-000000000002' AND `good` = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'reading, id 7', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- reading: updates
UPDATE `reading` SET `pressure` = 1.0E300, `good` = NULL WHERE `id` = -9223372036854775808 AND `pressure` = 4.9E-324 AND `good` = 0 AND `station` = 'A1' AND CAST(CONVERT(`station` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `level` = 1.500 AND `on_day` IS NULL; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'reading, id -9223372036854775808', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- station: references within the table that would keep rows from being deleted
UPDATE `station` SET `lead` = NULL WHERE `code` = 'B1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `lead` = 'B2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY); SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code B1', @w);
UPDATE `station` SET `lead` = NULL WHERE `code` = 'B2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY) AND `lead` = 'B2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY); SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code B2', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- station: deletes
DELETE FROM `station` WHERE `code` = 'B2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY) AND `na"me` IS NULL AND `lead` IS NULL; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code B2', @w);
DELETE FROM `station` WHERE `code` = 'B1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `na"me` = '名' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('名' AS BINARY) AND `lead` IS NULL; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code B1', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

COMMIT;
SELECT CASE @go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result;

-- MEND
-- ScriptForm[style=merge, guarded=true, oldValues=true, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

SET SESSION innodb_lock_wait_timeout = 5;
SET SESSION lock_wait_timeout = 5;
CREATE TABLE IF NOT EXISTS `log_tally_was` AS SELECT * FROM `log` WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS `station_tally_was` AS SELECT * FROM `station` WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS `reading_tally_was` AS SELECT * FROM `reading` WHERE 1 = 0;
SET NAMES utf8mb4;
SET time_zone = '+00:00';
SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ;
SET SESSION sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO';
-- @w names the first rows that are not as they were
DROP TEMPORARY TABLE IF EXISTS sharp_tally_check;
CREATE TEMPORARY TABLE sharp_tally_check (`a row had changed since it was compared, so nothing was done` INT NOT NULL);
START TRANSACTION;
SET @w = '';
DROP TEMPORARY TABLE IF EXISTS sharp_tally_place;
CREATE TEMPORARY TABLE sharp_tally_place (`not the database that was compared, nothing was done` INT NOT NULL);
INSERT INTO sharp_tally_place VALUES (IF(DATABASE() = 'archive', 1, NULL));
SELECT `words` FROM `log` WHERE 1 = 0;
SELECT `code`, `na"me`, `lead` FROM `station` WHERE 1 = 0;
SELECT `id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good` FROM `reading` WHERE 1 = 0;

-- was all of it done before?
SET @made = 0;
SET @made = @made + (SELECT COUNT(*) FROM `station` WHERE (`code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `na"me` = 'it''s a \\ and\na line' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('it''s a \\ and\na line' AS BINARY))
   OR (`code` = 'B1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `na"me` = '名' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('名' AS BINARY) AND `lead` = 'B2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY))
   OR (`code` = 'B2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY) AND `na"me` IS NULL AND `lead` = 'B2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY)));
SET @made = @made + 2 - (SELECT COUNT(*) FROM `station` WHERE (`code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY))
   OR (`code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY)));
SET @made = @made + (SELECT COUNT(*) FROM `reading` WHERE (`id` = 7 AND `station` = 'B1' AND CAST(CONVERT(`station` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `level` = -1.250 AND `pressure` = 0.1E0 AND `taken` = '2026-03-29 02:30:00.001' AND `on_day` = '2024-02-29' AND `seen` = '2026-10-25 01:30:00' AND `raw` = x'00ff' AND `mark` = '00000000-0000-0001-0000-000000000002' AND `good` = 1)
   OR (`id` = -9223372036854775808 AND `pressure` = 4.9E-324 AND `good` = 0 AND CASE WHEN `pressure` = 1.0E300 AND `good` IS NULL THEN 1 ELSE 0 END = 0));
SELECT CONCAT(@made, ' of 10 rows are as this would make them') AS stopped_at FROM DUAL WHERE @made NOT IN (0, 10);
DROP TEMPORARY TABLE IF EXISTS sharp_tally_made;
CREATE TEMPORARY TABLE sharp_tally_made (`some rows are as this would make them, so nothing was done` INT NOT NULL);
INSERT INTO sharp_tally_made VALUES (IF(@made IN (0, 10), 1, NULL));
SET @go = CASE WHEN @made = 10 THEN 0 ELSE 1 END;

-- rows that are changed or deleted, as they are now
INSERT INTO `log_tally_was` SELECT * FROM `log`
WHERE @go = 1 AND ((`words` IS NULL));
INSERT INTO `station_tally_was` SELECT * FROM `station`
WHERE @go = 1 AND ((`code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY)));
INSERT INTO `reading_tally_was` SELECT * FROM `reading`
WHERE @go = 1 AND ((`id` = -9223372036854775808));
INSERT INTO `station_tally_was` SELECT * FROM `station`
WHERE @go = 1 AND ((`code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY))
   OR (`code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY)));

-- log: deletes
DELETE FROM `log` WHERE `words` IS NULL AND @go = 1 LIMIT 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'log', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

-- log: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_1 AS SELECT `words` AS `words` FROM `log` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
INSERT INTO `log` (`words`)
SELECT sharp_tally.`words` FROM sharp_tally_rows_1 sharp_tally
WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> 2 * @go, 'log, 2 rows', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));
DROP TEMPORARY TABLE sharp_tally_rows_1;

-- station: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_2 AS SELECT `code` AS `code`, `na"me` AS `na"me`, `lead` AS `lead` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
INSERT INTO `station` (`code`, `na"me`, `lead`)
SELECT sharp_tally.`code`, sharp_tally.`na"me`, sharp_tally.`lead` FROM sharp_tally_rows_2 sharp_tally
WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> 2 * @go, 'station, 2 rows from code B1 on', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));
DROP TEMPORARY TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE TEMPORARY TABLE sharp_tally_rows_3 AS SELECT `code` AS `code`, `lead` AS `lead_was`, `lead` AS `lead_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', NULL, 'B2'),
  ('B2', NULL, 'B2');
UPDATE `station` JOIN sharp_tally_rows_3 sharp_tally
  ON `station`.`code` = sharp_tally.`code` AND CAST(`station`.`lead` AS BINARY) <=> CAST(sharp_tally.`lead_was` AS BINARY)
SET `station`.`lead` = sharp_tally.`lead_new`; SET @w = IF(@w = '' AND ROW_COUNT() <> 2 * @go, 'station, 2 rows from code B1 on', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));
DROP TEMPORARY TABLE sharp_tally_rows_3;

-- station: updates
CREATE TEMPORARY TABLE sharp_tally_rows_4 AS SELECT `code` AS `code`, `na"me` AS `na"me_was`, `lead` AS `lead_was`, `na"me` AS `na"me_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', NULL, 'A1', 'it''s a \\ and\na line');
UPDATE `station` JOIN sharp_tally_rows_4 sharp_tally
  ON `station`.`code` = sharp_tally.`code` AND CAST(`station`.`na"me` AS BINARY) <=> CAST(sharp_tally.`na"me_was` AS BINARY) AND CAST(`station`.`lead` AS BINARY) <=> CAST(sharp_tally.`lead_was` AS BINARY)
SET `station`.`na"me` = sharp_tally.`na"me_new`; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code A1', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));
DROP TEMPORARY TABLE sharp_tally_rows_4;

-- reading: updates
CREATE TEMPORARY TABLE sharp_tally_rows_5 AS SELECT `id` AS `id`, `pressure` AS `pressure_was`, `good` AS `good_was`, `station` AS `station_was`, `level` AS `level_was`, `on_day` AS `on_day_was`, `pressure` AS `pressure_new`, `good` AS `good_new` FROM `reading` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, 1.0E300, NULL, 'A1', 1.500, NULL, 4.9E-324, 0);
UPDATE `reading` JOIN sharp_tally_rows_5 sharp_tally
  ON `reading`.`id` = sharp_tally.`id` AND `reading`.`pressure` <=> sharp_tally.`pressure_was` AND `reading`.`good` <=> sharp_tally.`good_was` AND CAST(`reading`.`station` AS BINARY) <=> CAST(sharp_tally.`station_was` AS BINARY) AND `reading`.`level` <=> sharp_tally.`level_was` AND `reading`.`on_day` <=> sharp_tally.`on_day_was`
SET `reading`.`pressure` = sharp_tally.`pressure_new`, `reading`.`good` = sharp_tally.`good_new`; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'reading, id -9223372036854775808', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));
DROP TEMPORARY TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_6 AS SELECT `id` AS `id`, `station` AS `station`, `level` AS `level`, `pressure` AS `pressure`, `taken` AS `taken`, `on_day` AS `on_day`, `seen` AS `seen`, `raw` AS `raw`, `mark` AS `mark`, `good` AS `good` FROM `reading` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, 0.1E0, '2026-03-29 02:30:00.001', '2024-02-29', '2026-10-25 01:30:00', x'00ff', '00000000-0000-0001-0000-000000000002', 1);
INSERT INTO `reading` (`id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good`)
SELECT sharp_tally.`id`, sharp_tally.`station`, sharp_tally.`level`, sharp_tally.`pressure`, sharp_tally.`taken`, sharp_tally.`on_day`, sharp_tally.`seen`, sharp_tally.`raw`, sharp_tally.`mark`, sharp_tally.`good` FROM sharp_tally_rows_6 sharp_tally
WHERE @go = 1; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'reading, id 7', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));
DROP TEMPORARY TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE TEMPORARY TABLE sharp_tally_rows_7 AS SELECT `code` AS `code`, `lead` AS `lead_was`, `lead` AS `lead_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', 'C2', NULL);
UPDATE `station` JOIN sharp_tally_rows_7 sharp_tally
  ON `station`.`code` = sharp_tally.`code` AND CAST(`station`.`lead` AS BINARY) <=> CAST(sharp_tally.`lead_was` AS BINARY)
SET `station`.`lead` = sharp_tally.`lead_new`; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code C1', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));
DROP TEMPORARY TABLE sharp_tally_rows_7;

-- station: deletes
DELETE FROM `station` WHERE `code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY) AND `na"me` = ' ' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST(' ' AS BINARY) AND `lead` = 'C1' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY); SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code C2', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));
DELETE FROM `station` WHERE `code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY) AND `na"me` = '' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('' AS BINARY) AND `lead` IS NULL; SET @w = IF(@w = '' AND ROW_COUNT() <> @go, 'station, code C1', @w);
SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';
INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));

COMMIT;
SELECT CASE @go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result;

-- MEND
-- ScriptForm[style=merge, guarded=false, oldValues=true, forClient=false, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

SET SESSION innodb_lock_wait_timeout = 5;
SET SESSION lock_wait_timeout = 5;
CREATE TABLE IF NOT EXISTS `log_tally_was` AS SELECT * FROM `log` WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS `station_tally_was` AS SELECT * FROM `station` WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS `reading_tally_was` AS SELECT * FROM `reading` WHERE 1 = 0;
SET NAMES utf8mb4;
SET time_zone = '+00:00';
SET SESSION sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO';
START TRANSACTION;
DROP TEMPORARY TABLE IF EXISTS sharp_tally_place;
CREATE TEMPORARY TABLE sharp_tally_place (`not the database that was compared, nothing was done` INT NOT NULL);
INSERT INTO sharp_tally_place VALUES (IF(DATABASE() = 'archive', 1, NULL));

-- rows that are changed or deleted, as they are now
INSERT INTO `log_tally_was` SELECT * FROM `log`
WHERE (`words` IS NULL);
INSERT INTO `station_tally_was` SELECT * FROM `station`
WHERE (`code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY));
INSERT INTO `reading_tally_was` SELECT * FROM `reading`
WHERE (`id` = -9223372036854775808);
INSERT INTO `station_tally_was` SELECT * FROM `station`
WHERE (`code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY))
   OR (`code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY));

-- log: deletes
DELETE FROM `log` WHERE `words` IS NULL LIMIT 1;

-- log: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_1 AS SELECT `words` AS `words` FROM `log` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
INSERT INTO `log` (`words`)
SELECT sharp_tally.`words` FROM sharp_tally_rows_1 sharp_tally;
DROP TEMPORARY TABLE sharp_tally_rows_1;

-- station: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_2 AS SELECT `code` AS `code`, `na"me` AS `na"me`, `lead` AS `lead` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
INSERT INTO `station` (`code`, `na"me`, `lead`)
SELECT sharp_tally.`code`, sharp_tally.`na"me`, sharp_tally.`lead` FROM sharp_tally_rows_2 sharp_tally
ON DUPLICATE KEY UPDATE `station`.`na"me` = sharp_tally.`na"me`, `station`.`lead` = sharp_tally.`lead`;
DROP TEMPORARY TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE TEMPORARY TABLE sharp_tally_rows_3 AS SELECT `code` AS `code`, `lead` AS `lead_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', 'B2'),
  ('B2', 'B2');
UPDATE `station` JOIN sharp_tally_rows_3 sharp_tally
  ON `station`.`code` = sharp_tally.`code`
SET `station`.`lead` = sharp_tally.`lead_new`;
DROP TEMPORARY TABLE sharp_tally_rows_3;

-- station: updates
CREATE TEMPORARY TABLE sharp_tally_rows_4 AS SELECT `code` AS `code`, `na"me` AS `na"me_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', 'it''s a \\ and\na line');
UPDATE `station` JOIN sharp_tally_rows_4 sharp_tally
  ON `station`.`code` = sharp_tally.`code`
SET `station`.`na"me` = sharp_tally.`na"me_new`;
DROP TEMPORARY TABLE sharp_tally_rows_4;

-- reading: updates
CREATE TEMPORARY TABLE sharp_tally_rows_5 AS SELECT `id` AS `id`, `pressure` AS `pressure_new`, `good` AS `good_new` FROM `reading` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, 4.9E-324, 0);
UPDATE `reading` JOIN sharp_tally_rows_5 sharp_tally
  ON `reading`.`id` = sharp_tally.`id`
SET `reading`.`pressure` = sharp_tally.`pressure_new`, `reading`.`good` = sharp_tally.`good_new`;
DROP TEMPORARY TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_6 AS SELECT `id` AS `id`, `station` AS `station`, `level` AS `level`, `pressure` AS `pressure`, `taken` AS `taken`, `on_day` AS `on_day`, `seen` AS `seen`, `raw` AS `raw`, `mark` AS `mark`, `good` AS `good` FROM `reading` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, 0.1E0, '2026-03-29 02:30:00.001', '2024-02-29', '2026-10-25 01:30:00', x'00ff', '00000000-0000-0001-0000-000000000002', 1);
INSERT INTO `reading` (`id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good`)
SELECT sharp_tally.`id`, sharp_tally.`station`, sharp_tally.`level`, sharp_tally.`pressure`, sharp_tally.`taken`, sharp_tally.`on_day`, sharp_tally.`seen`, sharp_tally.`raw`, sharp_tally.`mark`, sharp_tally.`good` FROM sharp_tally_rows_6 sharp_tally
ON DUPLICATE KEY UPDATE `reading`.`station` = sharp_tally.`station`, `reading`.`level` = sharp_tally.`level`, `reading`.`pressure` = sharp_tally.`pressure`, `reading`.`taken` = sharp_tally.`taken`, `reading`.`on_day` = sharp_tally.`on_day`, `reading`.`seen` = sharp_tally.`seen`, `reading`.`raw` = sharp_tally.`raw`, `reading`.`mark` = sharp_tally.`mark`, `reading`.`good` = sharp_tally.`good`;
DROP TEMPORARY TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE TEMPORARY TABLE sharp_tally_rows_7 AS SELECT `code` AS `code`, `lead` AS `lead_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', NULL);
UPDATE `station` JOIN sharp_tally_rows_7 sharp_tally
  ON `station`.`code` = sharp_tally.`code`
SET `station`.`lead` = sharp_tally.`lead_new`;
DROP TEMPORARY TABLE sharp_tally_rows_7;

-- station: deletes
DELETE FROM `station` WHERE `code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY);
DELETE FROM `station` WHERE `code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY);

COMMIT;
