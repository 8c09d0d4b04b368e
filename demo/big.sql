-- A works of :motors motors with :jobs signed jobs of :entries entries each; figures come from the row's number.
INSERT INTO position (id, name, area, supply_system, system_voltage_v, criticality)
SELECT :first + n.seq,
       CONCAT(ELT(1 + n.seq DIV 7 MOD 10, 'conveyor', 'pump', 'fan', 'centrifuge', 'crusher', 'elevator', 'mixer',
                  'screen', 'drum', 'compressor'), ' ',
              ELT(1 + n.seq DIV 3 MOD 8, 'north', 'south', 'east', 'west', 'upper', 'lower', 'spare', 'third'),
              ' ', 1000 + n.seq),
       ELT(1 + n.seq MOD 12, 'Yard', 'Slicing', 'Extraction', 'Purification', 'Lime kiln', 'Evaporation',
           'Sugar house', 'Pulp drying', 'Boiler house', 'Packing', 'Water works', 'Silo'),
       'wye-earthed', 480, ELT(1 + n.seq DIV 5 MOD 3, 'routine', 'important', 'critical')
FROM seq_0_to_9999999 n WHERE n.seq < :motors;

INSERT INTO motor (id, tag, serial, position_id, rated_voltage_v, full_load_current_a, frequency_hz, power_text,
                   speed_rpm, service_factor, insulation_class, built_year, created_at)
SELECT :first + n.seq, CONCAT(ELT(1 + n.seq DIV 2 MOD 5, 'BW', 'LK', 'EV', 'SH', 'PD'), '-', 10000 + n.seq),
       CONCAT('S', 700000 + n.seq * 3), :first + n.seq, 460, 21, 60, ELT(1 + n.seq MOD 3, '15 hp', '40 hp', '7.5 kW'),
       1755, 1.15, 'F', 1995 + n.seq MOD 10, '2006-01-01'
FROM seq_0_to_9999999 n WHERE n.seq < :motors;

INSERT INTO winding (id, motor_id, since, reason, winding, insulation_system, conductor, lead_scheme,
                     insulation_test_forbidden)
SELECT :first + n.seq, :first + n.seq, '2005-01-01', 'built', 'random', 'thermosetting', 'copper',
       ELT(1 + n.seq DIV 11 MOD 6, 'three-lead-wye', 'three-lead-delta', 'six-lead', 'nine-lead-wye', 'twelve-lead',
           'two-speed-two-winding'), 0
FROM seq_0_to_9999999 n WHERE n.seq < :motors;

INSERT INTO job (id, token, motor_id, winding_id, kind, state, criteria, started_at, started_by, decided_action,
                 decided_by, decided_at, signed_at, signed_by, tested_on, verdict, r40_low_mohm, r40_high_mohm,
                 unbalance_percent, unbalance_percent_lowest, unbalance_percent_highest, r_reference_ohm, core_version)
SELECT id, CONCAT('big-', id), motor, motor, 'routine', 'signed', 'field-general', moment, 'A. Bulk', 'return',
       'A. Bulk', moment, moment, 'A. Bulk', DATE(moment), 'sound', r40, r40, 0.4, 0.2, 0.6, 0.53, 'big'
FROM (SELECT :first + n.seq * :jobs + j.seq AS id, :first + n.seq AS motor,
             DATE_ADD('2006-03-01 08:00:00', INTERVAL (j.seq * 7300 DIV :jobs + n.seq MOD 300) DAY) AS moment,
             50 + n.seq * 2654435761 MOD 997 + j.seq AS r40
      FROM seq_0_to_9999999 n, seq_0_to_9999 j WHERE n.seq < :motors AND j.seq < :jobs) made;

INSERT INTO motor_state (motor_id, winding_id, verdict, why, r40_low_mohm, r40_high_mohm, unbalance_percent,
                         unbalance_percent_lowest, unbalance_percent_highest, balance, r_reference_ohm, minimum_mohm,
                         last_on, last_job_id, next_on, next_why, spark, trend, core_version)
SELECT :first + n.seq, :first + n.seq,
       CASE WHEN n.seq MOD 50 = 7 THEN 'act' WHEN n.seq MOD 9 = 1 THEN 'watch' WHEN n.seq MOD 13 = 2 THEN 'unproven'
            ELSE 'sound' END,
       'Made up for measuring', 5 + n.seq * 2654435761 MOD 997 * 2, 5 + n.seq * 2654435761 MOD 997 * 2, 0.4, 0.2, 0.6,
       'sound', 0.53, 5, '2026-06-01', :first + n.seq * :jobs + :jobs - 1,
       DATE_ADD('2026-10-01', INTERVAL n.seq * 37 MOD 500 DAY), 'A year after the last one',
       CONCAT('[["2024-03-01",300,300,', :first + n.seq, '],["2025-03-01",280,280,', :first + n.seq,
              '],["2026-03-01",260,null,', :first + n.seq, ']]'), NULL, 'big'
FROM seq_0_to_9999999 n WHERE n.seq < :motors AND :jobs > 0 AND n.seq MOD 17 <> 16;

INSERT INTO entry (job_id, seq, token, place, kind, text, unit, shown, low, high, bound, at, who)
SELECT j.id, e.seq, CONCAT('big-', j.id, '-', e.seq), CONCAT('winding_resistance.', e.seq, '-x'), 'reading', '0.534',
       'Ω', 'value', 0.534, 0.534, 'exact', j.started_at, 'A. Bulk'
FROM job j, seq_1_to_9999 e WHERE j.id >= :first AND e.seq <= :entries;
