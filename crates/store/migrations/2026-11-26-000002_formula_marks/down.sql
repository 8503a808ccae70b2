DROP INDEX formulas_marks;
