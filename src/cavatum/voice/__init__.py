"""Ways that carry a message out of the house: mail, a broker, a webhook, a browser's push service.

For: handing one message to one address within a limit of time, and saying what became of it. Never: whose
turn it is (core/voice), or what was sent before (the store). Read in order: told, reach, then each way.
"""
