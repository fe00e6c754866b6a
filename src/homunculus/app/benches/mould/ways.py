"""Making a piece by a usual way: the mould and the route of a card, asked for by its name."""

from __future__ import annotations

from homunculus import library
from homunculus.app.benches.spec import WindowLike
from homunculus.app.desk import Desk
from homunculus.core.edits.wishes import made_by


def ask_way(window: WindowLike) -> None:
    """Ask how the drawn piece is made, and fill its mould and its route from that card."""
    desk: Desk = window.desk
    if not desk.chosen or not desk.build.pieces:
        desk.said.emit("There is no piece yet that could be made.")
        return
    pieces = desk.build.pieces
    piece = next((p for p in pieces if p.id == desk.piece_id), next((p for p in pieces if p.mould), pieces[0]))
    cards = library.ways()

    def take(words: str) -> None:
        wanted = words.strip().casefold()
        card = next((c for c in cards if wanted in (c.id, c.name.casefold())), None) or library.way(wanted)
        job = made_by(desk.job, desk.chosen, piece.id, card.id, desk.shelf.to_take)
        desk.piece_id = piece.id
        desk.edit(f"{piece.name}: {card.name}", job)
        desk.go("mould")
        desk.said.emit(
            f"{piece.name[:1].upper()}{piece.name[1:]} is made {card.name}, by {len(card.route)} operations. U goes back."
        )

    own = next((c.id for c in cards if type(c.mould) is type(piece.mould)), cards[0].id)
    window.notice.ask(f"How is the {piece.name} made? {', '.join(c.id for c in cards)}", take, own)
