"""Close: smooth continuation across narrow or smooth parts, with the picture's grain put back."""
