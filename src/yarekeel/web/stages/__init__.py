"""One folder a stage: ``view.py`` makes one typed value, ``page.html`` shows it, ``_<part>.html`` are what an edit redraws."""
