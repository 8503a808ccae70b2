ALTER TABLE formulas DROP COLUMN archived_at;
DROP TABLE cupboards;
