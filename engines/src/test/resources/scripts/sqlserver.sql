-- MEND
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

:on error exit
SET XACT_ABORT ON;
SET NOCOUNT ON;
SET ANSI_NULLS ON;
SET QUOTED_IDENTIFIER ON;
SET CONCAT_NULL_YIELDS_NULL ON;
SET TRANSACTION ISOLATION LEVEL SERIALIZABLE;
DECLARE @rows bigint;
BEGIN TRANSACTION;
IF NOT (DB_NAME() = N'archive') BEGIN; THROW 50000, N'not the database that was compared, nothing was done', 1; END;
SELECT [words] FROM [log] WHERE 1 = 0;
SELECT [code], [na"me], [lead] FROM [station] WHERE 1 = 0;
SELECT [id], [station], [level], [pressure], [taken], [on_day], [seen], [raw], [mark], [good] FROM [reading] WHERE 1 = 0;

-- was all of it done before?
CREATE TABLE #sharp_tally_made (made bigint);
INSERT INTO #sharp_tally_made SELECT (SELECT COUNT(*) FROM [station] WHERE ([code] = N'A1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|') AND [na"me] = (CONVERT(nvarchar(max), N'it''s a \ and') + NCHAR(10) + N'a line') AND CONCAT([na"me], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT((CONVERT(nvarchar(max), N'it''s a \ and') + NCHAR(10) + N'a line'), N'|'))
   OR ([code] = N'B1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B1', N'|') AND [na"me] = N'名' AND CONCAT([na"me], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'名', N'|') AND [lead] = N'B2' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|'))
   OR ([code] = N'B2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|') AND [na"me] IS NULL AND [lead] = N'B2' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|')));
INSERT INTO #sharp_tally_made SELECT 2 - (SELECT COUNT(*) FROM [station] WHERE ([code] = N'C1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C1', N'|'))
   OR ([code] = N'C2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C2', N'|')));
INSERT INTO #sharp_tally_made SELECT (SELECT COUNT(*) FROM [reading] WHERE ([id] = 7 AND [station] = N'B1' AND CONCAT([station], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B1', N'|') AND [level] = -1.250 AND [pressure] = 0.1E0 AND [taken] = CONVERT(datetime2(7), '2026-03-29T02:30:00.001', 126) AND [on_day] = CONVERT(date, '2024-02-29', 23) AND [seen] = CAST('2026-10-25 01:30:00 +00:00' AS datetimeoffset(7)) AND CONVERT(varbinary(max), [raw]) = 0x00ff AND DATALENGTH(CONVERT(varbinary(max), [raw])) = 2 AND [mark] = CONVERT(uniqueidentifier, '00000000-0000-0001-0000-000000000002') AND [good] = CAST(1 AS bit))
   OR ([id] = CAST(-9223372036854775808 AS bigint) AND [pressure] = 4.9E-324 AND [good] = CAST(0 AS bit) AND CASE WHEN [pressure] = 1.0E300 AND [good] IS NULL THEN 1 ELSE 0 END = 0));
IF NOT ((SELECT sum(made) FROM #sharp_tally_made) IN (0, 10)) BEGIN; THROW 50000, N'some rows are as this would make them, so nothing was done', 1; END;
CREATE TABLE #sharp_tally_go (made bigint, [rows] bigint, go int);
INSERT INTO #sharp_tally_go SELECT sum(made), 10, CASE WHEN sum(made) = 10 THEN 0 ELSE 1 END FROM #sharp_tally_made;

-- log: deletes
DELETE TOP (1) FROM [log] WHERE [words] IS NULL AND (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: log', 1; END;

-- log: inserts
INSERT INTO [log] ([words]) SELECT N'calm' WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: log', 1; END;
INSERT INTO [log] ([words]) SELECT N'calm' WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: log', 1; END;

-- station: inserts
INSERT INTO [station] ([code], [na"me], [lead]) SELECT N'B1', N'名', NULL WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code B1', 1; END;
INSERT INTO [station] ([code], [na"me], [lead]) SELECT N'B2', NULL, NULL WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code B2', 1; END;

-- station: references within the table, now that all its rows are there
UPDATE [station] SET [lead] = N'B2' WHERE [code] = N'B1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B1', N'|') AND [lead] IS NULL;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code B1', 1; END;
UPDATE [station] SET [lead] = N'B2' WHERE [code] = N'B2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|') AND [lead] IS NULL;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code B2', 1; END;

-- station: updates
UPDATE [station] SET [na"me] = (CONVERT(nvarchar(max), N'it''s a \ and') + NCHAR(10) + N'a line') WHERE [code] = N'A1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|') AND [na"me] IS NULL AND [lead] = N'A1' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|');
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code A1', 1; END;

-- reading: updates
UPDATE [reading] SET [pressure] = 4.9E-324, [good] = CAST(0 AS bit) WHERE [id] = CAST(-9223372036854775808 AS bigint) AND [pressure] = 1.0E300 AND [good] IS NULL AND [station] = N'A1' AND CONCAT([station], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|') AND [level] = 1.500 AND [on_day] IS NULL;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808', 1; END;

-- reading: inserts
INSERT INTO [reading] ([id], [station], [level], [pressure], [taken], [on_day], [seen], [raw], [mark], [good]) SELECT 7, N'B1', -1.250, 0.1E0, CONVERT(datetime2(7), '2026-03-29T02:30:00.001', 126), CONVERT(date, '2024-02-29', 23), CAST('2026-10-25 01:30:00 +00:00' AS datetimeoffset(7)), 0x00ff, CONVERT(uniqueidentifier, '00000000-0000-0001-0000-000000000002'), CAST(1 AS bit) WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: reading, id 7', 1; END;

-- station: references within the table that would keep rows from being deleted
UPDATE [station] SET [lead] = NULL WHERE [code] = N'C1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C1', N'|') AND [lead] = N'C2' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C2', N'|');
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code C1', 1; END;

-- station: deletes
DELETE FROM [station] WHERE [code] = N'C2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C2', N'|') AND [na"me] = N' ' AND CONCAT([na"me], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N' ', N'|') AND [lead] = N'C1' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C1', N'|');
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code C2', 1; END;
DELETE FROM [station] WHERE [code] = N'C1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C1', N'|') AND [na"me] = N'' AND CONCAT([na"me], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'', N'|') AND [lead] IS NULL;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code C1', 1; END;

COMMIT TRANSACTION;
SELECT CASE go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM #sharp_tally_go;
DROP TABLE #sharp_tally_made;
DROP TABLE #sharp_tally_go;
GO
SET NOEXEC OFF;
GO

-- UNDO
-- ScriptForm[style=row, guarded=true, oldValues=false, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional.empty, lockWait=Optional.empty]]

:on error exit
SET XACT_ABORT ON;
SET NOCOUNT ON;
SET ANSI_NULLS ON;
SET QUOTED_IDENTIFIER ON;
SET CONCAT_NULL_YIELDS_NULL ON;
SET TRANSACTION ISOLATION LEVEL SERIALIZABLE;
DECLARE @rows bigint;
BEGIN TRANSACTION;
IF NOT (DB_NAME() = N'archive') BEGIN; THROW 50000, N'not the database that was compared, nothing was done', 1; END;
SELECT [words] FROM [log] WHERE 1 = 0;
SELECT [code], [na"me], [lead] FROM [station] WHERE 1 = 0;
SELECT [id], [station], [level], [pressure], [taken], [on_day], [seen], [raw], [mark], [good] FROM [reading] WHERE 1 = 0;

-- was all of it done before?
CREATE TABLE #sharp_tally_made (made bigint);
INSERT INTO #sharp_tally_made SELECT (SELECT COUNT(*) FROM [station] WHERE ([code] = N'A1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|') AND [na"me] IS NULL)
   OR ([code] = N'C1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C1', N'|') AND [na"me] = N'' AND CONCAT([na"me], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'', N'|') AND [lead] = N'C2' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C2', N'|'))
   OR ([code] = N'C2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C2', N'|') AND [na"me] = N' ' AND CONCAT([na"me], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N' ', N'|') AND [lead] = N'C1' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C1', N'|')));
INSERT INTO #sharp_tally_made SELECT 2 - (SELECT COUNT(*) FROM [station] WHERE ([code] = N'B1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B1', N'|'))
   OR ([code] = N'B2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|')));
INSERT INTO #sharp_tally_made SELECT (SELECT COUNT(*) FROM [reading] WHERE [id] = CAST(-9223372036854775808 AS bigint) AND [pressure] = 1.0E300 AND [good] IS NULL AND CASE WHEN [pressure] = 4.9E-324 AND [good] = CAST(0 AS bit) THEN 1 ELSE 0 END = 0);
INSERT INTO #sharp_tally_made SELECT 1 - (SELECT COUNT(*) FROM [reading] WHERE [id] = 7);
IF NOT ((SELECT sum(made) FROM #sharp_tally_made) IN (0, 10)) BEGIN; THROW 50000, N'some rows are as this would make them, so nothing was done', 1; END;
CREATE TABLE #sharp_tally_go (made bigint, [rows] bigint, go int);
INSERT INTO #sharp_tally_go SELECT sum(made), 10, CASE WHEN sum(made) = 10 THEN 0 ELSE 1 END FROM #sharp_tally_made;

-- log: deletes
DELETE TOP (1) FROM [log] WHERE [words] IS NOT NULL AND CONCAT(CONVERT(nvarchar(max), [words]), N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'calm', N'|') AND (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: log', 1; END;
DELETE TOP (1) FROM [log] WHERE [words] IS NOT NULL AND CONCAT(CONVERT(nvarchar(max), [words]), N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'calm', N'|') AND (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: log', 1; END;

-- log: inserts
INSERT INTO [log] ([words]) SELECT NULL WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: log', 1; END;

-- station: inserts
INSERT INTO [station] ([code], [na"me], [lead]) SELECT N'C1', N'', NULL WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code C1', 1; END;
INSERT INTO [station] ([code], [na"me], [lead]) SELECT N'C2', N' ', N'C1' WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code C2', 1; END;

-- station: references within the table, now that all its rows are there
UPDATE [station] SET [lead] = N'C2' WHERE [code] = N'C1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C1', N'|') AND [lead] IS NULL;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code C1', 1; END;

-- station: updates
UPDATE [station] SET [na"me] = NULL WHERE [code] = N'A1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|') AND [na"me] = (CONVERT(nvarchar(max), N'it''s a \ and') + NCHAR(10) + N'a line') AND CONCAT([na"me], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT((CONVERT(nvarchar(max), N'it''s a \ and') + NCHAR(10) + N'a line'), N'|') AND [lead] = N'A1' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|');
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code A1', 1; END;

-- reading: deletes
DELETE FROM [reading] WHERE [id] = 7 AND [station] = N'B1' AND CONCAT([station], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B1', N'|') AND [level] = -1.250 AND [pressure] = 0.1E0 AND [taken] = CONVERT(datetime2(7), '2026-03-29T02:30:00.001', 126) AND [on_day] = CONVERT(date, '2024-02-29', 23) AND [seen] = CAST('2026-10-25 01:30:00 +00:00' AS datetimeoffset(7)) AND CONVERT(varbinary(max), [raw]) = 0x00ff AND DATALENGTH(CONVERT(varbinary(max), [raw])) = 2 AND [mark] = CONVERT(uniqueidentifier, '00000000-0000-0001-0000-000000000002') AND [good] = CAST(1 AS bit);
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: reading, id 7', 1; END;

-- reading: updates
UPDATE [reading] SET [pressure] = 1.0E300, [good] = NULL WHERE [id] = CAST(-9223372036854775808 AS bigint) AND [pressure] = 4.9E-324 AND [good] = CAST(0 AS bit) AND [station] = N'A1' AND CONCAT([station], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|') AND [level] = 1.500 AND [on_day] IS NULL;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808', 1; END;

-- station: references within the table that would keep rows from being deleted
UPDATE [station] SET [lead] = NULL WHERE [code] = N'B1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B1', N'|') AND [lead] = N'B2' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|');
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code B1', 1; END;
UPDATE [station] SET [lead] = NULL WHERE [code] = N'B2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|') AND [lead] = N'B2' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|');
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code B2', 1; END;

-- station: deletes
DELETE FROM [station] WHERE [code] = N'B2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|') AND [na"me] IS NULL AND [lead] IS NULL;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code B2', 1; END;
DELETE FROM [station] WHERE [code] = N'B1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B1', N'|') AND [na"me] = N'名' AND CONCAT([na"me], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'名', N'|') AND [lead] IS NULL;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code B1', 1; END;

COMMIT TRANSACTION;
SELECT CASE go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM #sharp_tally_go;
DROP TABLE #sharp_tally_made;
DROP TABLE #sharp_tally_go;
GO
SET NOEXEC OFF;
GO

-- MEND
-- ScriptForm[style=merge, guarded=true, oldValues=true, forClient=true, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

:on error exit
SET LOCK_TIMEOUT 5000;
IF OBJECT_ID(N'[log_tally_was]') IS NULL SELECT * INTO [log_tally_was] FROM (SELECT * FROM [log] WHERE 1 = 0 UNION ALL SELECT * FROM [log] WHERE 1 = 0) AS sharp_tally_columns;
IF OBJECT_ID(N'[station_tally_was]') IS NULL SELECT * INTO [station_tally_was] FROM (SELECT * FROM [station] WHERE 1 = 0 UNION ALL SELECT * FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
IF OBJECT_ID(N'[reading_tally_was]') IS NULL SELECT * INTO [reading_tally_was] FROM (SELECT * FROM [reading] WHERE 1 = 0 UNION ALL SELECT * FROM [reading] WHERE 1 = 0) AS sharp_tally_columns;
SET XACT_ABORT ON;
SET NOCOUNT ON;
SET ANSI_NULLS ON;
SET QUOTED_IDENTIFIER ON;
SET CONCAT_NULL_YIELDS_NULL ON;
SET TRANSACTION ISOLATION LEVEL SERIALIZABLE;
DECLARE @rows bigint;
BEGIN TRANSACTION;
IF NOT (DB_NAME() = N'archive') BEGIN; THROW 50000, N'not the database that was compared, nothing was done', 1; END;
SELECT [words] FROM [log] WHERE 1 = 0;
SELECT [code], [na"me], [lead] FROM [station] WHERE 1 = 0;
SELECT [id], [station], [level], [pressure], [taken], [on_day], [seen], [raw], [mark], [good] FROM [reading] WHERE 1 = 0;

-- was all of it done before?
CREATE TABLE #sharp_tally_made (made bigint);
INSERT INTO #sharp_tally_made SELECT (SELECT COUNT(*) FROM [station] WHERE ([code] = N'A1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|') AND [na"me] = (CONVERT(nvarchar(max), N'it''s a \ and') + NCHAR(10) + N'a line') AND CONCAT([na"me], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT((CONVERT(nvarchar(max), N'it''s a \ and') + NCHAR(10) + N'a line'), N'|'))
   OR ([code] = N'B1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B1', N'|') AND [na"me] = N'名' AND CONCAT([na"me], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'名', N'|') AND [lead] = N'B2' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|'))
   OR ([code] = N'B2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|') AND [na"me] IS NULL AND [lead] = N'B2' AND CONCAT([lead], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B2', N'|')));
INSERT INTO #sharp_tally_made SELECT 2 - (SELECT COUNT(*) FROM [station] WHERE ([code] = N'C1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C1', N'|'))
   OR ([code] = N'C2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C2', N'|')));
INSERT INTO #sharp_tally_made SELECT (SELECT COUNT(*) FROM [reading] WHERE ([id] = 7 AND [station] = N'B1' AND CONCAT([station], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'B1', N'|') AND [level] = -1.250 AND [pressure] = 0.1E0 AND [taken] = CONVERT(datetime2(7), '2026-03-29T02:30:00.001', 126) AND [on_day] = CONVERT(date, '2024-02-29', 23) AND [seen] = CAST('2026-10-25 01:30:00 +00:00' AS datetimeoffset(7)) AND CONVERT(varbinary(max), [raw]) = 0x00ff AND DATALENGTH(CONVERT(varbinary(max), [raw])) = 2 AND [mark] = CONVERT(uniqueidentifier, '00000000-0000-0001-0000-000000000002') AND [good] = CAST(1 AS bit))
   OR ([id] = CAST(-9223372036854775808 AS bigint) AND [pressure] = 4.9E-324 AND [good] = CAST(0 AS bit) AND CASE WHEN [pressure] = 1.0E300 AND [good] IS NULL THEN 1 ELSE 0 END = 0));
IF NOT ((SELECT sum(made) FROM #sharp_tally_made) IN (0, 10)) BEGIN; THROW 50000, N'some rows are as this would make them, so nothing was done', 1; END;
CREATE TABLE #sharp_tally_go (made bigint, [rows] bigint, go int);
INSERT INTO #sharp_tally_go SELECT sum(made), 10, CASE WHEN sum(made) = 10 THEN 0 ELSE 1 END FROM #sharp_tally_made;

-- rows that are changed or deleted, as they are now
INSERT INTO [log_tally_was] SELECT * FROM [log]
WHERE (SELECT go FROM #sharp_tally_go) = 1 AND (([words] IS NULL));
INSERT INTO [station_tally_was] SELECT * FROM [station]
WHERE (SELECT go FROM #sharp_tally_go) = 1 AND (([code] = N'A1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|')));
INSERT INTO [reading_tally_was] SELECT * FROM [reading]
WHERE (SELECT go FROM #sharp_tally_go) = 1 AND (([id] = CAST(-9223372036854775808 AS bigint)));
INSERT INTO [station_tally_was] SELECT * FROM [station]
WHERE (SELECT go FROM #sharp_tally_go) = 1 AND (([code] = N'C2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C2', N'|'))
   OR ([code] = N'C1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C1', N'|')));

-- log: deletes
DELETE TOP (1) FROM [log] WHERE [words] IS NULL AND (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: log', 1; END;

-- log: inserts
SELECT * INTO #sharp_tally_rows_1 FROM (SELECT [words] AS [words] FROM [log] WHERE 1 = 0 UNION ALL SELECT [words] AS [words] FROM [log] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_1 VALUES
  (N'calm'),
  (N'calm');
INSERT INTO [log] ([words])
SELECT sharp_tally.[words] FROM #sharp_tally_rows_1 sharp_tally
WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = 2 * (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: log, 2 rows', 1; END;
DROP TABLE #sharp_tally_rows_1;

-- station: inserts
SELECT * INTO #sharp_tally_rows_2 FROM (SELECT [code] AS [code], [na"me] AS [na"me], [lead] AS [lead] FROM [station] WHERE 1 = 0 UNION ALL SELECT [code] AS [code], [na"me] AS [na"me], [lead] AS [lead] FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_2 VALUES
  (N'B1', N'名', NULL),
  (N'B2', NULL, NULL);
INSERT INTO [station] ([code], [na"me], [lead])
SELECT sharp_tally.[code], sharp_tally.[na"me], sharp_tally.[lead] FROM #sharp_tally_rows_2 sharp_tally
WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = 2 * (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, 2 rows from code B1 on', 1; END;
DROP TABLE #sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
SELECT * INTO #sharp_tally_rows_3 FROM (SELECT [code] AS [code], [lead] AS [lead_was], [lead] AS [lead_new] FROM [station] WHERE 1 = 0 UNION ALL SELECT [code] AS [code], [lead] AS [lead_was], [lead] AS [lead_new] FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_3 VALUES
  (N'B1', NULL, N'B2'),
  (N'B2', NULL, N'B2');
MERGE INTO [station] WITH (HOLDLOCK) USING #sharp_tally_rows_3 sharp_tally
  ON ([station].[code] = sharp_tally.[code] AND EXISTS (SELECT (CONVERT(nvarchar(max), [station].[lead]) + N'|') COLLATE Latin1_General_100_BIN2 INTERSECT SELECT (CONVERT(nvarchar(max), sharp_tally.[lead_was]) + N'|') COLLATE Latin1_General_100_BIN2))
WHEN MATCHED THEN UPDATE SET [lead] = sharp_tally.[lead_new];
SET @rows = @@ROWCOUNT;
IF NOT (@rows = 2 * (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, 2 rows from code B1 on', 1; END;
DROP TABLE #sharp_tally_rows_3;

-- station: updates
SELECT * INTO #sharp_tally_rows_4 FROM (SELECT [code] AS [code], [na"me] AS [na"me_was], [lead] AS [lead_was], [na"me] AS [na"me_new] FROM [station] WHERE 1 = 0 UNION ALL SELECT [code] AS [code], [na"me] AS [na"me_was], [lead] AS [lead_was], [na"me] AS [na"me_new] FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_4 VALUES
  (N'A1', NULL, N'A1', (CONVERT(nvarchar(max), N'it''s a \ and') + NCHAR(10) + N'a line'));
MERGE INTO [station] WITH (HOLDLOCK) USING #sharp_tally_rows_4 sharp_tally
  ON ([station].[code] = sharp_tally.[code] AND EXISTS (SELECT (CONVERT(nvarchar(max), [station].[na"me]) + N'|') COLLATE Latin1_General_100_BIN2 INTERSECT SELECT (CONVERT(nvarchar(max), sharp_tally.[na"me_was]) + N'|') COLLATE Latin1_General_100_BIN2) AND EXISTS (SELECT (CONVERT(nvarchar(max), [station].[lead]) + N'|') COLLATE Latin1_General_100_BIN2 INTERSECT SELECT (CONVERT(nvarchar(max), sharp_tally.[lead_was]) + N'|') COLLATE Latin1_General_100_BIN2))
WHEN MATCHED THEN UPDATE SET [na"me] = sharp_tally.[na"me_new];
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code A1', 1; END;
DROP TABLE #sharp_tally_rows_4;

-- reading: updates
SELECT * INTO #sharp_tally_rows_5 FROM (SELECT [id] AS [id], [pressure] AS [pressure_was], [good] AS [good_was], [station] AS [station_was], [level] AS [level_was], [on_day] AS [on_day_was], [pressure] AS [pressure_new], [good] AS [good_new] FROM [reading] WHERE 1 = 0 UNION ALL SELECT [id] AS [id], [pressure] AS [pressure_was], [good] AS [good_was], [station] AS [station_was], [level] AS [level_was], [on_day] AS [on_day_was], [pressure] AS [pressure_new], [good] AS [good_new] FROM [reading] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_5 VALUES
  (CAST(-9223372036854775808 AS bigint), 1.0E300, NULL, N'A1', 1.500, NULL, 4.9E-324, CAST(0 AS bit));
MERGE INTO [reading] WITH (HOLDLOCK) USING #sharp_tally_rows_5 sharp_tally
  ON ([reading].[id] = sharp_tally.[id] AND EXISTS (SELECT [reading].[pressure] INTERSECT SELECT sharp_tally.[pressure_was]) AND EXISTS (SELECT [reading].[good] INTERSECT SELECT sharp_tally.[good_was]) AND EXISTS (SELECT (CONVERT(nvarchar(max), [reading].[station]) + N'|') COLLATE Latin1_General_100_BIN2 INTERSECT SELECT (CONVERT(nvarchar(max), sharp_tally.[station_was]) + N'|') COLLATE Latin1_General_100_BIN2) AND EXISTS (SELECT [reading].[level] INTERSECT SELECT sharp_tally.[level_was]) AND EXISTS (SELECT [reading].[on_day] INTERSECT SELECT sharp_tally.[on_day_was]))
WHEN MATCHED THEN UPDATE SET [pressure] = sharp_tally.[pressure_new], [good] = sharp_tally.[good_new];
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: reading, id -9223372036854775808', 1; END;
DROP TABLE #sharp_tally_rows_5;

-- reading: inserts
SELECT * INTO #sharp_tally_rows_6 FROM (SELECT [id] AS [id], [station] AS [station], [level] AS [level], [pressure] AS [pressure], [taken] AS [taken], [on_day] AS [on_day], [seen] AS [seen], [raw] AS [raw], [mark] AS [mark], [good] AS [good] FROM [reading] WHERE 1 = 0 UNION ALL SELECT [id] AS [id], [station] AS [station], [level] AS [level], [pressure] AS [pressure], [taken] AS [taken], [on_day] AS [on_day], [seen] AS [seen], [raw] AS [raw], [mark] AS [mark], [good] AS [good] FROM [reading] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_6 VALUES
  (7, N'B1', -1.250, 0.1E0, CONVERT(datetime2(7), '2026-03-29T02:30:00.001', 126), CONVERT(date, '2024-02-29', 23), CAST('2026-10-25 01:30:00 +00:00' AS datetimeoffset(7)), 0x00ff, CONVERT(uniqueidentifier, '00000000-0000-0001-0000-000000000002'), CAST(1 AS bit));
INSERT INTO [reading] ([id], [station], [level], [pressure], [taken], [on_day], [seen], [raw], [mark], [good])
SELECT sharp_tally.[id], sharp_tally.[station], sharp_tally.[level], sharp_tally.[pressure], sharp_tally.[taken], sharp_tally.[on_day], sharp_tally.[seen], sharp_tally.[raw], sharp_tally.[mark], sharp_tally.[good] FROM #sharp_tally_rows_6 sharp_tally
WHERE (SELECT go FROM #sharp_tally_go) = 1;
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: reading, id 7', 1; END;
DROP TABLE #sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
SELECT * INTO #sharp_tally_rows_7 FROM (SELECT [code] AS [code], [lead] AS [lead_was], [lead] AS [lead_new] FROM [station] WHERE 1 = 0 UNION ALL SELECT [code] AS [code], [lead] AS [lead_was], [lead] AS [lead_new] FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_7 VALUES
  (N'C1', N'C2', NULL);
MERGE INTO [station] WITH (HOLDLOCK) USING #sharp_tally_rows_7 sharp_tally
  ON ([station].[code] = sharp_tally.[code] AND EXISTS (SELECT (CONVERT(nvarchar(max), [station].[lead]) + N'|') COLLATE Latin1_General_100_BIN2 INTERSECT SELECT (CONVERT(nvarchar(max), sharp_tally.[lead_was]) + N'|') COLLATE Latin1_General_100_BIN2))
WHEN MATCHED THEN UPDATE SET [lead] = sharp_tally.[lead_new];
SET @rows = @@ROWCOUNT;
IF NOT (@rows = (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, code C1', 1; END;
DROP TABLE #sharp_tally_rows_7;

-- station: deletes
SELECT * INTO #sharp_tally_rows_8 FROM (SELECT [code] AS [code], [na"me] AS [na"me], [lead] AS [lead] FROM [station] WHERE 1 = 0 UNION ALL SELECT [code] AS [code], [na"me] AS [na"me], [lead] AS [lead] FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_8 VALUES
  (N'C2', N' ', N'C1'),
  (N'C1', N'', NULL);
DELETE FROM [station]
WHERE EXISTS (SELECT 1 FROM #sharp_tally_rows_8 sharp_tally WHERE [station].[code] = sharp_tally.[code] AND EXISTS (SELECT (CONVERT(nvarchar(max), [station].[na"me]) + N'|') COLLATE Latin1_General_100_BIN2 INTERSECT SELECT (CONVERT(nvarchar(max), sharp_tally.[na"me]) + N'|') COLLATE Latin1_General_100_BIN2) AND EXISTS (SELECT (CONVERT(nvarchar(max), [station].[lead]) + N'|') COLLATE Latin1_General_100_BIN2 INTERSECT SELECT (CONVERT(nvarchar(max), sharp_tally.[lead]) + N'|') COLLATE Latin1_General_100_BIN2));
SET @rows = @@ROWCOUNT;
IF NOT (@rows = 2 * (SELECT go FROM #sharp_tally_go)) BEGIN; THROW 50000, N'a row had changed since it was compared, so nothing was done: station, 2 rows from code C2 on', 1; END;
DROP TABLE #sharp_tally_rows_8;

COMMIT TRANSACTION;
SELECT CASE go WHEN 1 THEN '13 changes made and committed' ELSE 'already done: all rows are as this would make them, so nothing was changed' END AS result FROM #sharp_tally_go;
DROP TABLE #sharp_tally_made;
DROP TABLE #sharp_tally_go;
GO
SET NOEXEC OFF;
GO

-- MEND
-- ScriptForm[style=merge, guarded=false, oldValues=true, forClient=false, caution=ScriptSafeguards[withoutTriggers=false, narrowGuards=false, allowCascade=false, allowPartial=false, keepAs=Optional[was], lockWait=Optional[PT5S]]]

SET LOCK_TIMEOUT 5000;
IF OBJECT_ID(N'[log_tally_was]') IS NULL SELECT * INTO [log_tally_was] FROM (SELECT * FROM [log] WHERE 1 = 0 UNION ALL SELECT * FROM [log] WHERE 1 = 0) AS sharp_tally_columns;
IF OBJECT_ID(N'[station_tally_was]') IS NULL SELECT * INTO [station_tally_was] FROM (SELECT * FROM [station] WHERE 1 = 0 UNION ALL SELECT * FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
IF OBJECT_ID(N'[reading_tally_was]') IS NULL SELECT * INTO [reading_tally_was] FROM (SELECT * FROM [reading] WHERE 1 = 0 UNION ALL SELECT * FROM [reading] WHERE 1 = 0) AS sharp_tally_columns;
SET XACT_ABORT ON;
SET NOCOUNT ON;
SET ANSI_NULLS ON;
SET QUOTED_IDENTIFIER ON;
SET CONCAT_NULL_YIELDS_NULL ON;
SET TRANSACTION ISOLATION LEVEL SERIALIZABLE;
BEGIN TRANSACTION;
IF NOT (DB_NAME() = N'archive') BEGIN; THROW 50000, N'not the database that was compared, nothing was done', 1; END;

-- rows that are changed or deleted, as they are now
INSERT INTO [log_tally_was] SELECT * FROM [log]
WHERE ([words] IS NULL);
INSERT INTO [station_tally_was] SELECT * FROM [station]
WHERE ([code] = N'A1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'A1', N'|'));
INSERT INTO [reading_tally_was] SELECT * FROM [reading]
WHERE ([id] = CAST(-9223372036854775808 AS bigint));
INSERT INTO [station_tally_was] SELECT * FROM [station]
WHERE ([code] = N'C2' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C2', N'|'))
   OR ([code] = N'C1' AND CONCAT([code], N'|') COLLATE Latin1_General_100_BIN2 = CONCAT(N'C1', N'|'));

-- log: deletes
DELETE TOP (1) FROM [log] WHERE [words] IS NULL;

-- log: inserts
SELECT * INTO #sharp_tally_rows_1 FROM (SELECT [words] AS [words] FROM [log] WHERE 1 = 0 UNION ALL SELECT [words] AS [words] FROM [log] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_1 VALUES
  (N'calm'),
  (N'calm');
INSERT INTO [log] ([words])
SELECT sharp_tally.[words] FROM #sharp_tally_rows_1 sharp_tally;
DROP TABLE #sharp_tally_rows_1;

-- station: inserts
SELECT * INTO #sharp_tally_rows_2 FROM (SELECT [code] AS [code], [na"me] AS [na"me], [lead] AS [lead] FROM [station] WHERE 1 = 0 UNION ALL SELECT [code] AS [code], [na"me] AS [na"me], [lead] AS [lead] FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_2 VALUES
  (N'B1', N'名', NULL),
  (N'B2', NULL, NULL);
MERGE INTO [station] WITH (HOLDLOCK) USING #sharp_tally_rows_2 sharp_tally
  ON (EXISTS (SELECT (CONVERT(nvarchar(max), [station].[code]) + N'|') COLLATE Latin1_General_100_BIN2 INTERSECT SELECT (CONVERT(nvarchar(max), sharp_tally.[code]) + N'|') COLLATE Latin1_General_100_BIN2))
WHEN MATCHED THEN UPDATE SET [na"me] = sharp_tally.[na"me], [lead] = sharp_tally.[lead]
WHEN NOT MATCHED THEN INSERT ([code], [na"me], [lead]) VALUES (sharp_tally.[code], sharp_tally.[na"me], sharp_tally.[lead]);
DROP TABLE #sharp_tally_rows_2;

-- station: references within the table, now that all its rows are there
SELECT * INTO #sharp_tally_rows_3 FROM (SELECT [code] AS [code], [lead] AS [lead_new] FROM [station] WHERE 1 = 0 UNION ALL SELECT [code] AS [code], [lead] AS [lead_new] FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_3 VALUES
  (N'B1', N'B2'),
  (N'B2', N'B2');
MERGE INTO [station] WITH (HOLDLOCK) USING #sharp_tally_rows_3 sharp_tally
  ON ([station].[code] = sharp_tally.[code])
WHEN MATCHED THEN UPDATE SET [lead] = sharp_tally.[lead_new];
DROP TABLE #sharp_tally_rows_3;

-- station: updates
SELECT * INTO #sharp_tally_rows_4 FROM (SELECT [code] AS [code], [na"me] AS [na"me_new] FROM [station] WHERE 1 = 0 UNION ALL SELECT [code] AS [code], [na"me] AS [na"me_new] FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_4 VALUES
  (N'A1', (CONVERT(nvarchar(max), N'it''s a \ and') + NCHAR(10) + N'a line'));
MERGE INTO [station] WITH (HOLDLOCK) USING #sharp_tally_rows_4 sharp_tally
  ON ([station].[code] = sharp_tally.[code])
WHEN MATCHED THEN UPDATE SET [na"me] = sharp_tally.[na"me_new];
DROP TABLE #sharp_tally_rows_4;

-- reading: updates
SELECT * INTO #sharp_tally_rows_5 FROM (SELECT [id] AS [id], [pressure] AS [pressure_new], [good] AS [good_new] FROM [reading] WHERE 1 = 0 UNION ALL SELECT [id] AS [id], [pressure] AS [pressure_new], [good] AS [good_new] FROM [reading] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_5 VALUES
  (CAST(-9223372036854775808 AS bigint), 4.9E-324, CAST(0 AS bit));
MERGE INTO [reading] WITH (HOLDLOCK) USING #sharp_tally_rows_5 sharp_tally
  ON ([reading].[id] = sharp_tally.[id])
WHEN MATCHED THEN UPDATE SET [pressure] = sharp_tally.[pressure_new], [good] = sharp_tally.[good_new];
DROP TABLE #sharp_tally_rows_5;

-- reading: inserts
SELECT * INTO #sharp_tally_rows_6 FROM (SELECT [id] AS [id], [station] AS [station], [level] AS [level], [pressure] AS [pressure], [taken] AS [taken], [on_day] AS [on_day], [seen] AS [seen], [raw] AS [raw], [mark] AS [mark], [good] AS [good] FROM [reading] WHERE 1 = 0 UNION ALL SELECT [id] AS [id], [station] AS [station], [level] AS [level], [pressure] AS [pressure], [taken] AS [taken], [on_day] AS [on_day], [seen] AS [seen], [raw] AS [raw], [mark] AS [mark], [good] AS [good] FROM [reading] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_6 VALUES
  (7, N'B1', -1.250, 0.1E0, CONVERT(datetime2(7), '2026-03-29T02:30:00.001', 126), CONVERT(date, '2024-02-29', 23), CAST('2026-10-25 01:30:00 +00:00' AS datetimeoffset(7)), 0x00ff, CONVERT(uniqueidentifier, '00000000-0000-0001-0000-000000000002'), CAST(1 AS bit));
MERGE INTO [reading] WITH (HOLDLOCK) USING #sharp_tally_rows_6 sharp_tally
  ON (EXISTS (SELECT [reading].[id] INTERSECT SELECT sharp_tally.[id]))
WHEN MATCHED THEN UPDATE SET [station] = sharp_tally.[station], [level] = sharp_tally.[level], [pressure] = sharp_tally.[pressure], [taken] = sharp_tally.[taken], [on_day] = sharp_tally.[on_day], [seen] = sharp_tally.[seen], [raw] = sharp_tally.[raw], [mark] = sharp_tally.[mark], [good] = sharp_tally.[good]
WHEN NOT MATCHED THEN INSERT ([id], [station], [level], [pressure], [taken], [on_day], [seen], [raw], [mark], [good]) VALUES (sharp_tally.[id], sharp_tally.[station], sharp_tally.[level], sharp_tally.[pressure], sharp_tally.[taken], sharp_tally.[on_day], sharp_tally.[seen], sharp_tally.[raw], sharp_tally.[mark], sharp_tally.[good]);
DROP TABLE #sharp_tally_rows_6;

-- station: references within the table that would keep rows from being deleted
SELECT * INTO #sharp_tally_rows_7 FROM (SELECT [code] AS [code], [lead] AS [lead_new] FROM [station] WHERE 1 = 0 UNION ALL SELECT [code] AS [code], [lead] AS [lead_new] FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_7 VALUES
  (N'C1', NULL);
MERGE INTO [station] WITH (HOLDLOCK) USING #sharp_tally_rows_7 sharp_tally
  ON ([station].[code] = sharp_tally.[code])
WHEN MATCHED THEN UPDATE SET [lead] = sharp_tally.[lead_new];
DROP TABLE #sharp_tally_rows_7;

-- station: deletes
SELECT * INTO #sharp_tally_rows_8 FROM (SELECT [code] AS [code] FROM [station] WHERE 1 = 0 UNION ALL SELECT [code] AS [code] FROM [station] WHERE 1 = 0) AS sharp_tally_columns;
INSERT INTO #sharp_tally_rows_8 VALUES
  (N'C2'),
  (N'C1');
DELETE FROM [station]
WHERE EXISTS (SELECT 1 FROM #sharp_tally_rows_8 sharp_tally WHERE [station].[code] = sharp_tally.[code]);
DROP TABLE #sharp_tally_rows_8;

COMMIT TRANSACTION;
