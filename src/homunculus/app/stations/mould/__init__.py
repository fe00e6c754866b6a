"""The Mould bench: a true section to set thickness on."""
