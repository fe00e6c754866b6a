"""One cell or one line as people type it, and back: sheets, threads and files share these."""
