-- MEND

SET NAMES utf8mb4;
SET time_zone = '+00:00';
SET SESSION sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO';
CREATE TEMPORARY TABLE sharp_tally_check (touched BIGINT, expected BIGINT,
  CONSTRAINT `a row had changed since it was compared, so nothing was done` CHECK (touched = expected));
START TRANSACTION;
SET @n = 0;
SELECT `code`, `na"me`, `lead` FROM `station` WHERE 1 = 0;
SELECT `id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good` FROM `reading` WHERE 1 = 0;
SELECT `words` FROM `log` WHERE 1 = 0;

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
UPDATE `station` SET `na"me` = 'it''s a \\ and\na line' WHERE `code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `na"me` IS NULL; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- reading: updates
UPDATE `reading` SET `pressure` = 4.9E-324, `good` = 0 WHERE `id` = -9223372036854775808 AND `pressure` = 1.0E300 AND `good` IS NULL; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- reading: inserts
INSERT INTO `reading` (`id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good`) VALUES (7, 'B1', -1.250, 0.1E0, '2026-03-29 02:30:00.001', '2024-02-29', '2026-10-25 01:30:00', x'00ff', '00000000-0000-0001-0000-000000000002', 1); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- log: deletes
DELETE FROM `log` WHERE `words` IS NULL LIMIT 1; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- log: inserts
INSERT INTO `log` (`words`) VALUES ('calm'); SET @n = @n + ROW_COUNT();
INSERT INTO `log` (`words`) VALUES ('calm'); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
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

-- UNDO

SET NAMES utf8mb4;
SET time_zone = '+00:00';
SET SESSION sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO';
CREATE TEMPORARY TABLE sharp_tally_check (touched BIGINT, expected BIGINT,
  CONSTRAINT `a row had changed since it was compared, so nothing was done` CHECK (touched = expected));
START TRANSACTION;
SET @n = 0;
SELECT `code`, `na"me`, `lead` FROM `station` WHERE 1 = 0;
SELECT `id`, `station`, `level`, `pressure`, `taken`, `on_day`, `seen`, `raw`, `mark`, `good` FROM `reading` WHERE 1 = 0;
SELECT `words` FROM `log` WHERE 1 = 0;

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
UPDATE `station` SET `na"me` = NULL WHERE `code` = 'A1' AND CAST(CONVERT(`code` USING utf8mb4) AS BINARY) = CAST('A1' AS BINARY) AND `na"me` = 'it''s a \\ and\na line' AND CAST(CONVERT(`na"me` USING utf8mb4) AS BINARY) = CAST('it''s a \\ and\na line' AS BINARY); SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- reading: deletes
DELETE FROM `reading` WHERE `id` = 7 AND `station` = 'B1' AND CAST(CONVERT(`station` USING utf8mb4) AS BINARY) = CAST('B1' AS BINARY) AND `level` = -1.250 AND `pressure` = 0.1E0 AND `taken` = '2026-03-29 02:30:00.001' AND `on_day` = '2024-02-29' AND `seen` = '2026-10-25 01:30:00' AND `raw` = x'00ff' AND `mark` = '00000000-0000-0001-0000-000000000002' AND `good` = 1; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- reading: updates
UPDATE `reading` SET `pressure` = 1.0E300, `good` = NULL WHERE `id` = -9223372036854775808 AND `pressure` = 4.9E-324 AND `good` = 0; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 1);
SET @n = 0;

-- log: deletes
DELETE FROM `log` WHERE `words` = 'calm' AND CAST(CONVERT(`words` USING utf8mb4) AS BINARY) = CAST('calm' AS BINARY) LIMIT 1; SET @n = @n + ROW_COUNT();
DELETE FROM `log` WHERE `words` = 'calm' AND CAST(CONVERT(`words` USING utf8mb4) AS BINARY) = CAST('calm' AS BINARY) LIMIT 1; SET @n = @n + ROW_COUNT();
INSERT INTO sharp_tally_check VALUES (@n, 2);
SET @n = 0;

-- log: inserts
INSERT INTO `log` (`words`) VALUES (NULL); SET @n = @n + ROW_COUNT();
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
