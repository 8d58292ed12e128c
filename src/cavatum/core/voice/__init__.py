"""Who is told of a moment, by which way and when: rules alone, asked again and again with the same answer.

For: people and what they want to hear of (listeners), what there is to tell of (calls), whose turn it is and
what is to be sent now (turns), in which words (words).
Never: a mail server, a broker or a clock; what was sent and answered comes in. Read in order: listeners,
calls, turns, words.
"""
