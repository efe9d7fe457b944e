"""Published rules whose sums the program shows, clause by clause. They are shown, not replaced: the text in force governs."""
