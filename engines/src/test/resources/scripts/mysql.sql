-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

SET NAMES utf8mb4;
SET time_zone = '+00:00';
SET SESSION sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO';
CREATE TEMPORARY TABLE sharp_tally_check (touched BIGINT, expected BIGINT,
  CONSTRAINT `a row had changed since it was compared, so nothing was done` CHECK (touched = expected));
START TRANSACTION;
SET @n = 0;
SELECT `words` FROM `log` WHERE 1 = 0;
SELECT `code`, `na"me`, `lead` FROM `station` WHERE 1 = 0;
SELECT `id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good` FROM `reading` WHERE 1 = 0;

-- log: deletes
DELETE FROM `log` WHERE `words` IS NULL LIMIT 1; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- log: inserts
INSERT INTO `log` (`words`) VALUES ('calm'); SET @n = @n + ROW_COUNT();
INSERT INTO `log` (`words`) VALUES ('calm'); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;

-- station: inserts
INSERT INTO `station` (`code`, `na"me`, `lead`) VALUES ('B1', '名', NULL); SET @n = @n + ROW_COUNT();
INSERT INTO `station` (`code`, `na"me`, `lead`) VALUES ('B2', NULL, NULL); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;

-- station: references within the table, now that all its rows are there
UPDATE `station` SET `lead` = 'B2' WHERE `code` = 'B1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `lead` IS NULL; SET @n = @n + ROW_COUNT();
UPDATE `station` SET `lead` = 'B2' WHERE `code` = 'B2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY) AND `lead` IS NULL; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;

-- station: updates
UPDATE `station` SET `na"me` = 'it''s a \\ and\na line' WHERE `code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `na"me` IS NULL AND `lead` = 'A1' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- reading: updates
UPDATE `reading` SET `pressure` = 4.9E-324, `good` = 0 WHERE `id` = -9223372036854775808 AND `pressure` = 1.0E300 AND `good` IS NULL AND `station` = 'A1' AND CAST(CONVERT(`station` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `level` = 1.500 AND `on_day` IS NULL; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- reading: inserts
INSERT INTO `reading` (`id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good`) VALUES (7, 'B1', -1.250, 0.1E0, '2026-03-29 02:30:00.001', '2024-02-29', '2026-10-25 01:30:00', x'00ff', '00000000-0000-0001-0000-000000000002', 1); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- station: references within the table that would keep rows from being deleted
UPDATE `station` SET `lead` = NULL WHERE `code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY) AND `lead` = 'C2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- station: deletes
DELETE FROM `station` WHERE `code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY) AND `na"me` = ' ' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST(' ' AS BINARY) AND `lead` = 'C1' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY); SET @n = @n + ROW_COUNT();
DELETE FROM `station` WHERE `code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY) AND `na"me` = '' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('' AS BINARY) AND `lead` IS NULL; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;

COMMIT;
SELECT '13 changes made and committed' AS result;

-- UNDO
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

SET NAMES utf8mb4;
SET time_zone = '+00:00';
SET SESSION sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO';
CREATE TEMPORARY TABLE sharp_tally_check (touched BIGINT, expected BIGINT,
  CONSTRAINT `a row had changed since it was compared, so nothing was done` CHECK (touched = expected));
START TRANSACTION;
SET @n = 0;
SELECT `words` FROM `log` WHERE 1 = 0;
SELECT `code`, `na"me`, `lead` FROM `station` WHERE 1 = 0;
SELECT `id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good` FROM `reading` WHERE 1 = 0;

-- log: deletes
DELETE FROM `log` WHERE `words` = 'calm' AND CAST(CONVERT(`words` USING utf8mb4) AS BINARY) = CAST('calm' AS BINARY) LIMIT 1; SET @n = @n + ROW_COUNT();
DELETE FROM `log` WHERE `words` = 'calm' AND CAST(CONVERT(`words` USING utf8mb4) AS BINARY) = CAST('calm' AS BINARY) LIMIT 1; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;

-- log: inserts
INSERT INTO `log` (`words`) VALUES (NULL); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- station: inserts
INSERT INTO `station` (`code`, `na"me`, `lead`) VALUES ('C1', '', NULL); SET @n = @n + ROW_COUNT();
INSERT INTO `station` (`code`, `na"me`, `lead`) VALUES ('C2', ' ', 'C1'); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;

-- station: references within the table, now that all its rows are there
UPDATE `station` SET `lead` = 'C2' WHERE `code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY) AND `lead` IS NULL; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- station: updates
UPDATE `station` SET `na"me` = NULL WHERE `code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `na"me` = 'it''s a \\ and\na line' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('it''s a \\ and\na line' AS BINARY) AND `lead` = 'A1' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- reading: deletes
DELETE FROM `reading` WHERE `id` = 7 AND `station` = 'B1' AND CAST(CONVERT(`station` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `level` = -1.250 AND `pressure` = 0.1E0 AND `taken` = '2026-03-29 02:30:00.001' AND `on_day` = '2024-02-29' AND `seen` = '2026-10-25 01:30:00' AND `raw` = x'00ff' AND `mark` = '00000000-0000-0001-0000-000000000002' AND `good` = 1; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- reading: updates
UPDATE `reading` SET `pressure` = 1.0E300, `good` = NULL WHERE `id` = -9223372036854775808 AND `pressure` = 4.9E-324 AND `good` = 0 AND `station` = 'A1' AND CAST(CONVERT(`station` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `level` = 1.500 AND `on_day` IS NULL; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- station: references within the table that would keep rows from being deleted
UPDATE `station` SET `lead` = NULL WHERE `code` = 'B1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `lead` = 'B2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY); SET @n = @n + ROW_COUNT();
UPDATE `station` SET `lead` = NULL WHERE `code` = 'B2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY) AND `lead` = 'B2' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;

-- station: deletes
DELETE FROM `station` WHERE `code` = 'B2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B2' AS BINARY) AND `na"me` IS NULL AND `lead` IS NULL; SET @n = @n + ROW_COUNT();
DELETE FROM `station` WHERE `code` = 'B1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `na"me` = '名' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('名' AS BINARY) AND `lead` IS NULL; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;

COMMIT;
SELECT '13 changes made and committed' AS result;

-- MEND
-- ScriptForm[style=merge, guarded=true, oldValues=true, forClient=true, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

SET SESSION innodb_lock_wait_timeout = 5;
SET SESSION lock_wait_timeout = 5;
CREATE TABLE IF NOT EXISTS `log_tally_was` AS SELECT * FROM `log` WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS `station_tally_was` AS SELECT * FROM `station` WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS `reading_tally_was` AS SELECT * FROM `reading` WHERE 1 = 0;
SET NAMES utf8mb4;
SET time_zone = '+00:00';
SET SESSION sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO';
CREATE TEMPORARY TABLE sharp_tally_check (touched BIGINT, expected BIGINT,
  CONSTRAINT `a row had changed since it was compared, so nothing was done` CHECK (touched = expected));
START TRANSACTION;
SET @n = 0;
SELECT `words` FROM `log` WHERE 1 = 0;
SELECT `code`, `na"me`, `lead` FROM `station` WHERE 1 = 0;
SELECT `id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good` FROM `reading` WHERE 1 = 0;

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
DELETE FROM `log` WHERE `words` IS NULL LIMIT 1; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- log: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_1 AS SELECT `words` AS `words` FROM `log` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_1 VALUES
  ('calm'),
  ('calm');
INSERT INTO `log` (`words`)
SELECT s.`words` FROM sharp_tally_rows_1 s; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;
DROP TEMPORARY TABLE sharp_tally_rows_1;

-- station: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_2 AS SELECT `code` AS `code`, `na"me` AS `na"me`, `lead` AS `lead` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
INSERT INTO `station` (`code`, `na"me`, `lead`)
SELECT s.`code`, s.`na"me`, s.`lead` FROM sharp_tally_rows_2 s; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;
DROP TEMPORARY TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE TEMPORARY TABLE sharp_tally_rows_3 AS SELECT `code` AS `code`, `lead` AS `lead_was`, `lead` AS `lead_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', NULL, 'B2'),
  ('B2', NULL, 'B2');
UPDATE `station` JOIN sharp_tally_rows_3 s
  ON `station`.`code` = s.`code` AND CAST(`station`.`lead` AS BINARY) <=> CAST(s.`lead_was` AS BINARY)
SET `station`.`lead` = s.`lead_new`; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;
DROP TEMPORARY TABLE sharp_tally_rows_3;

-- station: updates
CREATE TEMPORARY TABLE sharp_tally_rows_4 AS SELECT `code` AS `code`, `na"me` AS `na"me_was`, `lead` AS `lead_was`, `na"me` AS `na"me_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', NULL, 'A1', 'it''s a \\ and\na line');
UPDATE `station` JOIN sharp_tally_rows_4 s
  ON `station`.`code` = s.`code` AND CAST(`station`.`na"me` AS BINARY) <=> CAST(s.`na"me_was` AS BINARY) AND CAST(`station`.`lead` AS BINARY) <=> CAST(s.`lead_was` AS BINARY)
SET `station`.`na"me` = s.`na"me_new`; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;
DROP TEMPORARY TABLE sharp_tally_rows_4;

-- reading: updates
CREATE TEMPORARY TABLE sharp_tally_rows_5 AS SELECT `id` AS `id`, `pressure` AS `pressure_was`, `good` AS `good_was`, `station` AS `station_was`, `level` AS `level_was`, `on_day` AS `on_day_was`, `pressure` AS `pressure_new`, `good` AS `good_new` FROM `reading` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, 1.0E300, NULL, 'A1', 1.500, NULL, 4.9E-324, 0);
UPDATE `reading` JOIN sharp_tally_rows_5 s
  ON `reading`.`id` = s.`id` AND `reading`.`pressure` <=> s.`pressure_was` AND `reading`.`good` <=> s.`good_was` AND CAST(`reading`.`station` AS BINARY) <=> CAST(s.`station_was` AS BINARY) AND `reading`.`level` <=> s.`level_was` AND `reading`.`on_day` <=> s.`on_day_was`
SET `reading`.`pressure` = s.`pressure_new`, `reading`.`good` = s.`good_new`; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;
DROP TEMPORARY TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_6 AS SELECT `id` AS `id`, `station` AS `station`, `level` AS `level`, `pressure` AS `pressure`, `taken` AS `taken`, `on_day` AS `on_day`, `seen` AS `seen`, `raw` AS `raw`, `mark` AS `mark`, `good` AS `good` FROM `reading` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, 0.1E0, '2026-03-29 02:30:00.001', '2024-02-29', '2026-10-25 01:30:00', x'00ff', '00000000-0000-0001-0000-000000000002', 1);
INSERT INTO `reading` (`id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good`)
SELECT s.`id`, s.`station`, s.`level`, s.`pressure`, s.`taken`, s.`on_day`, s.`seen`, s.`raw`, s.`mark`, s.`good` FROM sharp_tally_rows_6 s; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;
DROP TEMPORARY TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE TEMPORARY TABLE sharp_tally_rows_7 AS SELECT `code` AS `code`, `lead` AS `lead_was`, `lead` AS `lead_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', 'C2', NULL);
UPDATE `station` JOIN sharp_tally_rows_7 s
  ON `station`.`code` = s.`code` AND CAST(`station`.`lead` AS BINARY) <=> CAST(s.`lead_was` AS BINARY)
SET `station`.`lead` = s.`lead_new`; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;
DROP TEMPORARY TABLE sharp_tally_rows_7;

-- station: deletes
DELETE FROM `station` WHERE `code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY) AND `na"me` = ' ' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST(' ' AS BINARY) AND `lead` = 'C1' AND CAST(CONVERT(`lead` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;
DELETE FROM `station` WHERE `code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY) AND `na"me` = '' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('' AS BINARY) AND `lead` IS NULL; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

COMMIT;
SELECT '13 changes made and committed' AS result;

-- MEND
-- ScriptForm[style=merge, guarded=false, oldValues=true, forClient=false, caution=Caution[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

SET SESSION innodb_lock_wait_timeout = 5;
SET SESSION lock_wait_timeout = 5;
CREATE TABLE IF NOT EXISTS `log_tally_was` AS SELECT * FROM `log` WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS `station_tally_was` AS SELECT * FROM `station` WHERE 1 = 0;
CREATE TABLE IF NOT EXISTS `reading_tally_was` AS SELECT * FROM `reading` WHERE 1 = 0;
SET NAMES utf8mb4;
SET time_zone = '+00:00';
SET SESSION sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO';
START TRANSACTION;

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
SELECT s.`words` FROM sharp_tally_rows_1 s;
DROP TEMPORARY TABLE sharp_tally_rows_1;

-- station: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_2 AS SELECT `code` AS `code`, `na"me` AS `na"me`, `lead` AS `lead` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_2 VALUES
  ('B1', '名', NULL),
  ('B2', NULL, NULL);
INSERT INTO `station` (`code`, `na"me`, `lead`)
SELECT s.`code`, s.`na"me`, s.`lead` FROM sharp_tally_rows_2 s
ON DUPLICATE KEY UPDATE `station`.`na"me` = s.`na"me`, `station`.`lead` = s.`lead`;
DROP TEMPORARY TABLE sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
CREATE TEMPORARY TABLE sharp_tally_rows_3 AS SELECT `code` AS `code`, `lead` AS `lead_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_3 VALUES
  ('B1', 'B2'),
  ('B2', 'B2');
UPDATE `station` JOIN sharp_tally_rows_3 s
  ON `station`.`code` = s.`code`
SET `station`.`lead` = s.`lead_new`;
DROP TEMPORARY TABLE sharp_tally_rows_3;

-- station: updates
CREATE TEMPORARY TABLE sharp_tally_rows_4 AS SELECT `code` AS `code`, `na"me` AS `na"me_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_4 VALUES
  ('A1', 'it''s a \\ and\na line');
UPDATE `station` JOIN sharp_tally_rows_4 s
  ON `station`.`code` = s.`code`
SET `station`.`na"me` = s.`na"me_new`;
DROP TEMPORARY TABLE sharp_tally_rows_4;

-- reading: updates
CREATE TEMPORARY TABLE sharp_tally_rows_5 AS SELECT `id` AS `id`, `pressure` AS `pressure_new`, `good` AS `good_new` FROM `reading` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_5 VALUES
  (-9223372036854775808, 4.9E-324, 0);
UPDATE `reading` JOIN sharp_tally_rows_5 s
  ON `reading`.`id` = s.`id`
SET `reading`.`pressure` = s.`pressure_new`, `reading`.`good` = s.`good_new`;
DROP TEMPORARY TABLE sharp_tally_rows_5;

-- reading: inserts
CREATE TEMPORARY TABLE sharp_tally_rows_6 AS SELECT `id` AS `id`, `station` AS `station`, `level` AS `level`, `pressure` AS `pressure`, `taken` AS `taken`, `on_day` AS `on_day`, `seen` AS `seen`, `raw` AS `raw`, `mark` AS `mark`, `good` AS `good` FROM `reading` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_6 VALUES
  (7, 'B1', -1.250, 0.1E0, '2026-03-29 02:30:00.001', '2024-02-29', '2026-10-25 01:30:00', x'00ff', '00000000-0000-0001-0000-000000000002', 1);
INSERT INTO `reading` (`id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good`)
SELECT s.`id`, s.`station`, s.`level`, s.`pressure`, s.`taken`, s.`on_day`, s.`seen`, s.`raw`, s.`mark`, s.`good` FROM sharp_tally_rows_6 s
ON DUPLICATE KEY UPDATE `reading`.`station` = s.`station`, `reading`.`level` = s.`level`, `reading`.`pressure` = s.`pressure`, `reading`.`taken` = s.`taken`, `reading`.`on_day` = s.`on_day`, `reading`.`seen` = s.`seen`, `reading`.`raw` = s.`raw`, `reading`.`mark` = s.`mark`, `reading`.`good` = s.`good`;
DROP TEMPORARY TABLE sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
CREATE TEMPORARY TABLE sharp_tally_rows_7 AS SELECT `code` AS `code`, `lead` AS `lead_new` FROM `station` WHERE 1 = 0;
INSERT INTO sharp_tally_rows_7 VALUES
  ('C1', NULL);
UPDATE `station` JOIN sharp_tally_rows_7 s
  ON `station`.`code` = s.`code`
SET `station`.`lead` = s.`lead_new`;
DROP TEMPORARY TABLE sharp_tally_rows_7;

-- station: deletes
DELETE FROM `station` WHERE `code` = 'C2' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C2' AS BINARY);
DELETE FROM `station` WHERE `code` = 'C1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('C1' AS BINARY);

COMMIT;
