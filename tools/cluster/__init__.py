"""Several machines: a group of three database nodes, two processes of the application, one address."""
