"""The workshop's own network: a certificate authority of its own, so that phones may use sensors, alarms and offline pages over HTTPS.

For: making and renewing certificates (cryptography), the address as a QR code (segno). Never: a rule of the trade, the database.
"""
