"""The number of live takes that this machine carries, in a clinic's set-up: nginx with TLS in
front, two serving processes, a database on the same machine, and one client per take, in real
time."""
