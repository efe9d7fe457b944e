"""Commands of the developers: shares, attacks, breakages, pictures. None of them ships."""
