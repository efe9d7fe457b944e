"""Where the boat rests, in any load, with water inside, dived, under a force."""
