"""EN 1998-1: ductile columns of concrete."""
