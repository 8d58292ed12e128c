"""MQTT: the message as JSON under a topic, for whatever the house does with it (paho-mqtt)."""

from __future__ import annotations

import ssl
import time
from dataclasses import dataclass

import paho.mqtt.client as mqtt

from .reach import address_of
from .told import LIMIT_S, Told, Undelivered


@dataclass(frozen=True, kw_only=True)
class Broker:
    host: str
    port: int = 1883
    topic: str = "cavatum/said"
    secure: bool = False
    user: str = ""
    password: str = ""


def send(broker: Broker, told: Told, *, may_be_local: bool, trusted: ssl.SSLContext | None = None) -> None:
    """With the broker's receipt (QoS 1). Raises Undelivered. Over TLS paho looks the name up once more: there
    the certificate says whose answer it is.
    """
    if broker.password and not broker.secure:
        raise Undelivered("A password is not sent in the clear: choose TLS.", is_final=True)
    address = address_of(broker.host, broker.port, may_be_local=may_be_local)
    client = mqtt.Client(mqtt.CallbackAPIVersion.VERSION2, transport="tcp")
    if broker.user:
        client.username_pw_set(broker.user, broker.password)
    if broker.secure:
        client.tls_set_context(trusted or ssl.create_default_context())
    refused: list[str] = []
    client.on_connect = lambda _c, _d, _f, code, _p: refused.append(str(code)) if code.is_failure else None
    try:
        client.connect_timeout = LIMIT_S
        client.connect(broker.host if broker.secure else address, broker.port, keepalive=20)
        client.loop_start()
        if not _got_receipt(client.publish(broker.topic, told.as_json(), qos=1), refused):
            why = f"refused: {refused[0]}" if refused else "gave no receipt"
            raise Undelivered(f"The broker {why}.", is_final=bool(refused) and "uthor" in refused[0])
    except (OSError, ValueError) as error:
        raise Undelivered(f"The broker did not answer: {type(error).__name__}.") from error
    finally:
        client.disconnect()
        client.loop_stop()


def _got_receipt(sent: mqtt.MQTTMessageInfo, refused: list[str]) -> bool:
    until = time.monotonic() + LIMIT_S
    while not sent.is_published() and not refused and time.monotonic() < until:
        time.sleep(0.02)
    return sent.is_published()
