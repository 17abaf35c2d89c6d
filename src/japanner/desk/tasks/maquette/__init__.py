"""Working on the maquette."""
