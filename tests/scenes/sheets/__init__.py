"""Made-up data sheets with the truth beside: products by seed, said in five languages, set in thirty
layouts."""
