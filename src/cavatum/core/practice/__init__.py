"""Tables of the trade that a maker can read and correct: for now the cautions. Never computation."""
