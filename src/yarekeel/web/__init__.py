"""The pages. One route file serves every stage; a stage's folder holds its view value and its two templates."""
