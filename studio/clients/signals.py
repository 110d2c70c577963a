"""What others are told of clients."""

from django.dispatch import Signal

client_forgotten = Signal()  # studio_id: within the transaction that forgets
