"""What a swimmer sees behind a link, on a phone, without an account."""
