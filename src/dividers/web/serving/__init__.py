"""How the application is served: its server, and the addresses it is found at."""
