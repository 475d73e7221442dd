"""What is read off a coupon: evidence, counts, size, verdict, and how alike two people read."""
