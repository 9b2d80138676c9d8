"""Find held sounds and measure them."""
