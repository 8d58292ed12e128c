"""What a request or a job does, between the web and the core: reads the store, asks the core, keeps the
answer.

One module a stage. Never: Flask, a request, a status code, or SQL; nothing here imports the web.
"""
