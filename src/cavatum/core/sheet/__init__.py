"""What a data sheet says, found on its pages: words with their places into quantities, each with the line it
came
from, its conditions and how sure it is. Never guesses what was not said, a ratio's basis least of all.

Read in order: page, vocabulary, tokens, grammar, spans, rows, finding, judging. Which words mean what is no
part of it: formats/sheet_words holds one file a language.
"""
