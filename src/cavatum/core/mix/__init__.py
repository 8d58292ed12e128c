"""What to weigh: the ratio by weight and by volume, and batches that fit cup and scale.

Read in order: ratio, batches. Never: depths or times of the day.
"""
