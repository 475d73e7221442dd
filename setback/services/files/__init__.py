"""What leaves and comes in as files: coupons, plates, labels, bundles of a lab."""
