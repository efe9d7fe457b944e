"""Values to a scene to SVG text, with class names and no colours: the page, print and command line share one drawing."""
