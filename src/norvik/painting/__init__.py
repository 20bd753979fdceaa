"""What is drawn on a picture, painted once for the screen, the still and the film."""
