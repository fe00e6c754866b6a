"""What benches share: handles, the person, silhouettes."""
