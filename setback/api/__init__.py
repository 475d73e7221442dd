"""HTTP: parse, call one service, serialise. No arithmetic and no SQL here."""
