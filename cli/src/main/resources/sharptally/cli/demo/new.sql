CREATE TABLE person (
  person_id INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, observer_code VARCHAR(8) NOT NULL UNIQUE,
  full_name VARCHAR(60) NOT NULL, region VARCHAR(10), signed_at TIMESTAMP(0) WITH TIME ZONE, phone VARCHAR(20),
  skills VARCHAR(60), settings VARCHAR(200), note VARCHAR(100));
INSERT INTO person (observer_code, full_name, region, signed_at, phone, skills, settings, note) VALUES
  ('OB01', 'RAGNA TANGVÆR', 'north', '2019-03-01 07:00:00+00', '004700112233', 'boat,swim', '{"watch": 2, "lamp": true}', NULL),
  ('OB02', 'Elske van der Kust', 'south', '2019-06-15 07:30:00+00', '0031000112233', 'boat', '{"watch": 1}', NULL),
  ('OB03', U&'E\0301mile Ressac', 'south', '2020-01-10 09:00:00+00', '033000112', 'boat,radio,swim', '{"lamp": false, "watch": 3.0}', 'mornings'),
  ('OB04', 'Torvald Skjær', 'north', '2020-10-25 11:00:00+00', '004700445566', 'radio', NULL, 'has keys'),
  ('OB05', 'Inga Holm', 'west', '2021-07-01 07:15:00+00', '004700778899', 'swim', '{}', 'has key'),
  ('OB06', 'Pärt Laine', 'east', '2022-11-30 15:45:00+00', '0372000 1122', 'radio,boat', '{"watch": 1}', NULL);
CREATE TABLE duty (
  person_id INTEGER NOT NULL REFERENCES person, station_code VARCHAR(8) NOT NULL, visited_on DATE NOT NULL,
  minutes INTEGER, PRIMARY KEY (person_id, station_code, visited_on));
INSERT INTO duty VALUES
  (1, 'TG01', '2023-01-05', 30), (1, 'TG02', '2023-01-05', 45), (2, 'TG07', '2023-01-09', 20),
  (3, 'TG08', '2023-02-11', 56), (4, 'TG13', '2023-02-12', 15), (5, 'TG14', '2023-03-03', 40),
  (6, 'TG19', '2023-03-04', 55);
CREATE TABLE datum (
  station_code VARCHAR(8) PRIMARY KEY, datum_m NUMERIC(8,3), depth_m NUMERIC(6,2), slope REAL,
  checked_at TIMESTAMP(3));
INSERT INTO datum VALUES
  ('TG01', 1.234, 12.34, 0.5, '2025-05-01 10:11:12'), ('TG02', -0.310, 8.10, 0.25, '2025-05-02 11:00:00'),
  ('TG03', 0.905, 22.75, 1.75, '2025-05-03 12:30:59'), ('TG04', 0.000, 5.05, 0.125, '2025-05-04 13:00:00'),
  ('TG05', 2.781, 31.42, 3.1, '2025-05-05 14:00:00'), ('TG06', 0.577, 9.99, 0.9, '2025-05-06 15:00:00'),
  ('TG07', 1.408, 3.50, 0.1, '2025-05-10 09:00:00'),
  ('TG08', -0.022, 4.25, 0.2, '2025-05-11 09:00:00'),
  ('TG09', 0.333, 7.75, 0.3, '2025-05-12 09:00:00'),
  ('TG10', 1.999, 6.50, 0.4, '2025-05-13 09:00:00'),
  ('TG11', 0.012, 2.13, 0.5, '2025-05-14 09:00:00'),
  ('TG12', -0.870, 9.50, 0.6, '2025-05-15 09:00:00'),
  ('TG13', 4.004, 11.25, 0.7, '2025-05-16 09:00:00'),
  ('TG14', 0.650, 1.50, 0.8, '2025-05-17 09:00:00'),
  ('TG15', 0.075, 8.88, 0.9, '2025-05-18 09:00:00'),
  ('TG16', 2.222, 10.50, 1.1, '2025-05-19 09:00:00');
CREATE TABLE alarm (
  id BIGINT PRIMARY KEY, station_code VARCHAR(8) NOT NULL, raised_on DATE NOT NULL, closed_on DATE,
  cause VARCHAR(40));
INSERT INTO alarm VALUES
  (3, 'TG04', '2022-01-01', '2022-01-03', 'storm'), (4, 'TG09', '2022-08-20', NULL, 'silted up'),
  (5, 'TG11', '2023-02-02', NULL, 'ice'), (6, 'TG12', '2024-04-04', NULL, 'battery');
CREATE VIEW open_alarm AS SELECT id, station_code, raised_on, cause FROM alarm WHERE closed_on IS NULL;
CREATE TABLE lookup_cause (code VARCHAR(10) PRIMARY KEY, words VARCHAR(40));
INSERT INTO lookup_cause VALUES ('battery', 'battery low'), ('ice', 'ice in the well'), ('storm', 'storm'), ('silt', 'silted up');
CREATE TABLE lookup_quality (code SMALLINT PRIMARY KEY, words VARCHAR(40));
INSERT INTO lookup_quality VALUES (0, 'good'), (1, 'doubtful'), (2, 'gap filled'), (3, 'bad');
CREATE TABLE month_summary (
  station_code VARCHAR(8), summary_month CHAR(7), readings INTEGER, mean_level_m NUMERIC(9,4),
  PRIMARY KEY (station_code, summary_month));
INSERT INTO month_summary
  SELECT station_code, FORMATDATETIME(taken_at, 'yyyy-MM'), COUNT(*), AVG(level_m) FROM reading
  WHERE station_code IN ('TG01', 'TG02', 'TG03') GROUP BY station_code, FORMATDATETIME(taken_at, 'yyyy-MM');
