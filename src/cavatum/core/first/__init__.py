"""The first minute: from what lies on the bench to what to weigh, before anything is kept. Read first: benches."""
