-- Spans have these indexes by other names already (0003).
DROP INDEX edition_spans_by_first;
DROP INDEX edition_spans_by_last;
