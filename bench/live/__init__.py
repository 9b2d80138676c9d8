"""How many live takes this machine carries, as a clinic would run it: nginx with TLS in front, two
serving processes behind, a database beside them, and as many clients as takes, in real time."""
