"""What gunicorn does with the application beside serving it; read from the folder that it is started in."""

import gc
import threading

forwarded_allow_ips = ""  # whose word of a proxy is believed is said in the settings, and looked at in workshop/front


def _caught_up() -> None:
    """What an engine before this one worked out is worked out anew, beside the first requests."""
    from django.db import Error, connection

    from workshop.day import catching
    from workshop.logbook import reckoning
    from workshop.stock import demand

    try:
        catching.catch_up()
        demand.catch_up()
        reckoning.catch_up()
    except Error:  # the database is away: the next start does it, and drawer and logbook say how many jobs wait
        pass
    finally:
        connection.close()


def post_worker_init(worker: object) -> None:
    """Catch up in the background of each worker; what another has done already is not done again."""
    del worker
    gc.collect()
    gc.freeze()  # what is loaded by now stays: it is not looked through again for each heap of rows
    threading.Thread(target=_caught_up, name="catch-up", daemon=True).start()
