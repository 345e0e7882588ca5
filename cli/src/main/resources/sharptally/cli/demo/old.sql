CREATE TABLE observer (
  code TEXT PRIMARY KEY NOT NULL, name TEXT NOT NULL, region TEXT, signed_on TIMESTAMP, phone TEXT, skills TEXT,
  settings TEXT, note TEXT, loaded_at TIMESTAMP);
INSERT INTO observer VALUES
  ('OB01', 'Ragna Tangvær', 'N', '2019-03-01 08:00:00', '+47 00 11 22 33', 'swim,boat', '{"lamp":true,"watch":2}', '', '2026-02-01 00:00:00'),
  ('OB02', 'Elske van der Kust', 'S', '2019-06-15 09:30:00', '0031-000112233', 'boat', '{"watch":1}', NULL, '2026-02-01 00:00:00'),
  ('OB03', 'Émile  Ressac', 'S', '2020-01-10 10:00:00', '(033) 000 112', 'radio,boat,swim', '{"watch":3,"lamp":false}', 'mornings', '2026-02-01 00:00:00'),
  ('OB04', 'Torvald Skjær', 'N', '2020-10-25 12:00:00', '+47 00 44 55 66', 'radio', NULL, 'has keys', '2026-02-01 00:00:00'),
  ('OB05', 'Inga Holm ', 'W', '2021-07-01 07:15:00', '+47 00 77 88 99', 'swim', '{}', 'has keys', '2026-02-01 00:00:00'),
  ('OB06', 'Pärt Laine', 'E', '2022-11-30 16:45:00', '+372 000 1122', 'boat,radio', '{"watch":1}', NULL, '2026-02-01 00:00:00');
CREATE TABLE visit (
  observer_code TEXT NOT NULL REFERENCES observer (code), station_code TEXT NOT NULL, visited_on DATE NOT NULL,
  minutes INTEGER, PRIMARY KEY (observer_code, station_code, visited_on));
INSERT INTO visit VALUES
  ('OB01', 'TG01', '2023-01-05', 30), ('OB01', 'TG02', '2023-01-05', 45), ('OB02', 'TG07', '2023-01-09', 20),
  ('OB03', 'TG08', '2023-02-11', 65), ('OB04', 'TG13', '2023-02-12', 15), ('OB05', 'TG14', '2023-03-03', 40),
  ('OB06', 'TG19', '2023-03-04', 55), ('OB06', 'TG20', '2023-03-04', 25);
CREATE TABLE datum (
  station_code TEXT PRIMARY KEY NOT NULL, datum_mm INTEGER, depth_m DOUBLE, slope DOUBLE, checked_at TIMESTAMP);
INSERT INTO datum VALUES
  ('TG01', 1234, 12.3449, 0.5001, '2025-05-01 10:11:12.345'), ('TG02', -310, 8.1, 0.25, '2025-05-02 11:00:00.001'),
  ('TG03', 905, 22.75, 1.75, '2025-05-03 12:30:59.999'), ('TG04', 0, 5.05, 0.125, '2025-05-04 13:00:00'),
  ('TG05', 2718, 31.4159, 3.1, '2025-05-05 14:00:00.5'), ('TG06', 577, 9.99, 0.9, '2025-05-06 15:00:00'),
  ('TG07', 1408, 3.5, 0.1, '2025-05-10 09:00:00'),
  ('TG08', -22, 4.25, 0.2, '2025-05-11 09:00:00'),
  ('TG09', 333, 7.75, 0.3, '2025-05-12 09:00:00'),
  ('TG10', 1999, 6.5, 0.4, '2025-05-13 09:00:00'),
  ('TG11', 12, 2.125, 0.5, '2025-05-14 09:00:00'),
  ('TG12', -870, 9.5, 0.6, '2025-05-15 09:00:00'),
  ('TG13', 4004, 11.25, 0.7, '2025-05-16 09:00:00'),
  ('TG14', 650, 1.5, 0.8, '2025-05-17 09:00:00'),
  ('TG15', 75, 8.875, 0.9, '2025-05-18 09:00:00'),
  ('TG16', 2222, 10.5, 1.1, '2025-05-19 09:00:00');
CREATE TABLE alarm (
  id INTEGER PRIMARY KEY, station_code TEXT NOT NULL, raised_on DATE NOT NULL, closed_on DATE, cause TEXT);
INSERT INTO alarm VALUES
  (1, 'TG01', '2018-12-30', '2019-01-02', 'battery'), (2, 'TG04', '2021-11-11', '2021-11-12', 'storm'),
  (3, 'TG04', '2022-01-01', '2022-01-03', 'storm'), (4, 'TG09', '2022-08-20', NULL, 'silted up'),
  (5, 'TG11', '2023-02-02', '2023-02-10', 'ice'), (6, 'TG12', '2024-04-04', NULL, 'battery');
CREATE TABLE ref_cause (code TEXT PRIMARY KEY NOT NULL, words TEXT);
INSERT INTO ref_cause VALUES ('battery', 'battery low'), ('ice', 'ice in the well'), ('storm', 'storm'), ('silt', 'silted up');
CREATE TABLE ref_quality (code INTEGER PRIMARY KEY, words TEXT);
INSERT INTO ref_quality VALUES (0, 'good'), (1, 'doubtful'), (2, 'gap filled'), (3, 'bad');
