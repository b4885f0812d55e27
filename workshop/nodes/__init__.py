"""Django's backend for MariaDB over one server or over the nodes of a group (Galera), of which one is chosen."""
