DROP TABLE set_aside;
DROP TABLE settings;
ALTER TABLE doughs DROP COLUMN schema;
ALTER TABLE cupboards DROP COLUMN schema;
ALTER TABLE kitchens DROP COLUMN schema;
ALTER TABLE versions DROP COLUMN schema;
ALTER TABLE formulas DROP COLUMN schema;
