"""Ways of making a mould, a file each; who asks, asks the register."""
