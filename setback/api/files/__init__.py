"""Routes of labels and bundles."""
