"""Passkeys by W3C Web Authentication, through py_webauthn. What the browser is asked for, and whether its
answer holds.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from webauthn import (
    generate_authentication_options,
    generate_registration_options,
    options_to_json,
    verify_authentication_response,
    verify_registration_response,
)
from webauthn.helpers import parse_authentication_credential_json, parse_registration_credential_json
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

NAME = "Cavatum"


@dataclass(frozen=True)
class Made:
    credential_id: bytes
    public_key: bytes
    sign_count: int


def ask_to_make(
    host: str, account_id: int, email: str, name: str, have: list[bytes]
) -> tuple[bytes, dict[str, Any]]:
    """(challenge, what the browser is asked): a passkey that is kept on the device and wants its owner's
    finger or code.
    """
    options = generate_registration_options(
        rp_id=host,
        rp_name=NAME,
        user_id=str(account_id).encode(),
        user_name=email,
        user_display_name=name,
        exclude_credentials=[PublicKeyCredentialDescriptor(id=one) for one in have],
        authenticator_selection=AuthenticatorSelectionCriteria(
            resident_key=ResidentKeyRequirement.REQUIRED,
            user_verification=UserVerificationRequirement.REQUIRED,
        ),
    )
    return options.challenge, json.loads(options_to_json(options))


def made(answer: dict[str, Any], challenge: bytes, host: str, origin: str) -> Made | None:
    """None where the answer does not hold: another challenge, host or origin, or no sound signature."""
    try:
        found = verify_registration_response(
            credential=parse_registration_credential_json(answer),
            expected_challenge=challenge,
            expected_rp_id=host,
            expected_origin=origin,
            require_user_verification=True,
        )
    except (WebAuthnException, ValueError, KeyError, TypeError):
        return None
    return Made(found.credential_id, found.credential_public_key, found.sign_count)


def ask_to_sign(host: str) -> tuple[bytes, dict[str, Any]]:
    """For whoever has one for this host: nobody has to be named, so nobody can be guessed."""
    options = generate_authentication_options(
        rp_id=host, user_verification=UserVerificationRequirement.REQUIRED
    )
    return options.challenge, json.loads(options_to_json(options))


def credential_of(answer: dict[str, Any]) -> bytes | None:
    try:
        return parse_authentication_credential_json(answer).raw_id
    except (WebAuthnException, ValueError, KeyError, TypeError):
        return None


def signed(
    answer: dict[str, Any], challenge: bytes, host: str, origin: str, public_key: bytes, sign_count: int
) -> int | None:
    """The new count of signatures; None where it does not hold (a lower count than before: a copied key)."""
    try:
        found = verify_authentication_response(
            credential=parse_authentication_credential_json(answer),
            expected_challenge=challenge,
            expected_rp_id=host,
            expected_origin=origin,
            credential_public_key=public_key,
            credential_current_sign_count=sign_count,
            require_user_verification=True,
        )
    except (WebAuthnException, ValueError, KeyError, TypeError):
        return None
    return found.new_sign_count
