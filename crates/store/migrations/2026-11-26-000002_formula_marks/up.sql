-- What the list of formulas goes by, so that a long one is looked through without reading every formula.
CREATE INDEX formulas_marks ON formulas (deleted_at, id, revision, updated_at, archived_at);
