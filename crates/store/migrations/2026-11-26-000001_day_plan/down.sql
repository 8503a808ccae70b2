DROP TABLE day_plans;
