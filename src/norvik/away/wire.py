"""What goes between the house and workers away, as MessagePack: plain data, checked on arrival."""

from __future__ import annotations

from fractions import Fraction
from typing import Any, TypeVar, get_origin

import msgspec
import numpy as np

T = TypeVar("T")


class Ask(msgspec.Struct, frozen=True, tag=True):
    """May I have this job? token: a word of the worker's own, by which it is answered and known."""

    job_id: int
    token: str
    worker: str


class Given(msgspec.Struct, frozen=True):
    """The answer. kind is empty where there is nothing to do. order: packed."""

    kind: str = ""
    order: bytes = b""


class Part(msgspec.Struct, frozen=True, tag=True):
    job_id: int
    token: str
    part: bytes


class Done(msgspec.Struct, frozen=True, tag=True):
    job_id: int
    token: str
    result: bytes


class Ended(msgspec.Struct, frozen=True, tag=True):
    """how: "cancelled", "failed" or "broke"."""

    job_id: int
    token: str
    how: str
    sentence: str


class GaveWay(msgspec.Struct, frozen=True, tag=True):
    """stopping: the worker was told to stop, and the try does not count."""

    job_id: int
    token: str
    stopping: bool = False


Message = Ask | Part | Done | Ended | GaveWay
_MESSAGES = msgspec.msgpack.Decoder(Message)


class Pulse(msgspec.Struct, frozen=True):
    """What a worker writes over and over while it works."""

    doing: str
    progress: float | None


def pack(value: Any) -> bytes:
    """Structs, dataclasses, arrays and fractions among them."""
    return msgspec.msgpack.encode(value, enc_hook=_told)


def unpack(data: bytes, kind: type[T]) -> T:
    """Raises msgspec.ValidationError or DecodeError for what is not of that kind."""
    return msgspec.msgpack.decode(data, type=kind, dec_hook=_heard)


def message(data: bytes) -> Message:
    """Raises as `unpack` does."""
    return _MESSAGES.decode(data)


def _told(value: Any) -> Any:
    if isinstance(value, np.ndarray):
        return value.dtype.str, value.shape, np.ascontiguousarray(value).tobytes()
    if isinstance(value, Fraction):
        return value.numerator, value.denominator
    raise TypeError(f"{type(value).__name__} does not travel")


def _heard(kind: Any, value: Any) -> Any:
    if kind is Fraction:
        return Fraction(*value)
    if (get_origin(kind) or kind) is np.ndarray:
        form, shape, data = value
        if form not in ("<f8", "<f4"):
            raise ValueError("only numbers travel in arrays")
        return np.frombuffer(data, form).reshape(shape)
    raise TypeError(f"{kind} does not travel")
