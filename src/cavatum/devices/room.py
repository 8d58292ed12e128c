"""The room sensor: what arrives under an MQTT topic, kept as the newest reading (paho-mqtt). CAVATUM_ROOM:
mqtt://host:port/topic.

Under the topic either JSON with temperature (degC) and humidity (percent, or a share below 1.5), or one
number each under topic/temperature and topic/humidity.
"""

from __future__ import annotations

import json
import threading
import urllib.parse
from typing import Any

import paho.mqtt.client as mqtt
import psycopg

from ..store import devices
from ..store.pool import stay_within

LEAST_C, MOST_C = -30.0, 60.0
LONGEST = 2000


def parse_room(topic: str, payload: bytes) -> dict[str, float]:
    """What one message says: temperature_c and humidity, each only where it is sound. Empty: nothing of
    use.
    """
    if len(payload) > LONGEST:
        return {}
    try:
        said: Any = json.loads(payload.decode("utf-8"))
    except (UnicodeDecodeError, json.JSONDecodeError):
        return {}
    if isinstance(said, (int, float)) and not isinstance(said, bool):
        said = {topic.rsplit("/", 1)[-1]: said}
    if not isinstance(said, dict):
        return {}
    found: dict[str, float] = {}
    for name, value in said.items():
        if not isinstance(value, (int, float)) or isinstance(value, bool):
            continue
        found |= _reading(name, float(value))
    return found


def _reading(name: str, value: float) -> dict[str, float]:
    """One named value, where it is a temperature [degC] or a humidity (percent or a share) that can be."""
    if name in ("temperature", "temp", "temperature_c") and LEAST_C <= value <= MOST_C:
        return {"temperature_c": value}
    share = value / 100 if value > 1.5 else value
    if name in ("humidity", "hum", "relative_humidity") and 0 <= share <= 1:
        return {"humidity": share}
    return {}


def read_room(database_url: str, url: str, shop: int, name: str, over: threading.Event | None = None) -> None:
    """Listens until the broker goes away (OSError) or `over` is set."""
    address = urllib.parse.urlsplit(url)
    topic = address.path.strip("/") or "cavatum/room"
    kept: dict[str, float] = {}
    gone = over or threading.Event()
    client = mqtt.Client(mqtt.CallbackAPIVersion.VERSION2)
    if address.username:
        client.username_pw_set(
            urllib.parse.unquote(address.username), urllib.parse.unquote(address.password or "")
        )
    with psycopg.connect(database_url, autocommit=True) as connection:
        stay_within(connection, shop)

        def heard(_client: mqtt.Client, _data: Any, message: mqtt.MQTTMessage) -> None:
            found = parse_room(message.topic, bytes(message.payload))
            if found:
                kept.update(found)
                devices.keep_reading(connection, shop, "room", name, dict(kept))

        client.on_message = heard
        client.on_connect = lambda one, *_: one.subscribe([(topic, 0), (f"{topic}/#", 0)])
        client.on_disconnect = lambda *_: gone.set() if over is None else None
        client.connect(address.hostname or "127.0.0.1", address.port or 1883, keepalive=20)
        client.loop_start()
        try:
            gone.wait()
        finally:
            client.disconnect()
            client.loop_stop()
