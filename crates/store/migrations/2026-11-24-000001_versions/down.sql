DROP TABLE versions;
