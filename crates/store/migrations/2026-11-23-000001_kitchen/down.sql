DROP TABLE formulas;
DROP TABLE kitchens;
