"""The workshop's own network: who may come in over it, and by which line.

For: making and renewing certificates (cryptography), passwords (argon2), passkeys (webauthn). Never: a rule
of the trade, the database.
"""
