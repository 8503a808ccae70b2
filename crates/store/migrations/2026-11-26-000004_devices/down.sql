DROP TABLE bin;
DROP TABLE sessions;
DROP TABLE devices;
