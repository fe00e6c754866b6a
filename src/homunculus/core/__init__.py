"""Pure computation: imports no Qt, opens no file, prints nothing, asks no clock."""
