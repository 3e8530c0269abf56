-- Engines and parts in the order that people count in: no. 9 before no. 11.
CREATE COLLATION IF NOT EXISTS natural_order (provider = icu, locale = 'und-u-kn-true');
CREATE INDEX builds_in_order ON builds ((summary ->> 'name') COLLATE natural_order, id);
CREATE INDEX lives_in_order ON lives (serial COLLATE natural_order, kind COLLATE "C") WHERE piece = 0;
