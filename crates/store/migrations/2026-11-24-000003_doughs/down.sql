DROP TABLE doughs;
