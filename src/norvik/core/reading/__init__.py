"""What a series of poses tells: pure, without films or networks."""
