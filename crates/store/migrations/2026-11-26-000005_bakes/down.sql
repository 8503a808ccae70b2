DROP TABLE bake_events;
DROP TABLE bakes;
