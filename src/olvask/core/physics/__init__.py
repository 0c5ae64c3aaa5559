"""What nature does. Plain numbers in, plain numbers out; SI units."""
