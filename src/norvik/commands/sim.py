"""`norvik sim`: film the model swimmer."""

from __future__ import annotations

import sys
from pathlib import Path

import click
from click.core import ParameterSource

from norvik.model.body import Build
from norvik.model.camera import VIEWS
from norvik.model.dials import DIALS, usual_swim, with_faults
from norvik.model.drills import MOTIONS
from norvik.model.drills.film import DrillTake, film_drill
from norvik.model.film import Conditions, Take, film
from norvik.model.filmlike.skin import SUITS
from norvik.model.render import STYLES
from norvik.model.schedule import STROKES


def _faults(
    context: click.Context, parameter: click.Parameter, values: tuple[str, ...]
) -> dict[str, float]:
    found = {}
    for value in values:
        name, _, amount = value.partition("=")
        if name not in DIALS:
            raise click.BadParameter(f"unknown fault {name}; known: {', '.join(sorted(DIALS))}")
        try:
            found[name] = float(amount) if amount else 1.0
        except ValueError as error:
            raise click.BadParameter(f"{value}: the amount is a number from 0 to 1") from error
    return found


#: What goes with --drill: the rest belongs to a stroke, or to how a stroke is filmed.
_WITH_DRILL = {"out", "drill", "seconds", "fps", "height", "dots"}


def _drill(
    context: click.Context, drill: str, out: Path, seconds: float, fps: int, height: float,
    dots: bool,
) -> None:  # fmt: skip
    given = {
        name for name in context.params
        if context.get_parameter_source(name) is ParameterSource.COMMANDLINE
    } - _WITH_DRILL  # fmt: skip
    if given:
        named = ", ".join(f"--{name.replace('_', '-')}" for name in sorted(given))
        raise click.UsageError(f"--drill has its own motion and view: leave out {named}.")
    if drill not in MOTIONS:
        raise click.BadParameter(
            f"unknown drill {drill}; known: {', '.join(sorted(MOTIONS))}", param_hint="--drill"
        )
    film_drill(DrillTake(drill, seconds, fps, Build(height), dots), out)


@click.command()
@click.argument("out", type=click.Path(dir_okay=False, path_type=Path))
@click.option("--stroke", type=click.Choice(STROKES), default="freestyle", show_default=True)
@click.option("--view", type=click.Choice(VIEWS), default="side-under", show_default=True)
@click.option("--rate", type=click.FloatRange(10, 120), help="Cycles per minute.")
@click.option("--fps", type=click.IntRange(10, 960), default=60, show_default=True)
@click.option(
    "--seconds", type=click.FloatRange(0.1, 600), default=8.0, show_default=True, help="Real time."
)
@click.option("--seed", type=int, default=1, show_default=True)
@click.option(
    "--fault", "faults", multiple=True, callback=_faults, metavar="ID=AMOUNT",
    help="A fault with its amount from 0 to 1; may be given several times.",
)  # fmt: skip
@click.option(
    "--stored-fps", type=click.IntRange(1, 960), help="Frames/s of the file: slow motion."
)
@click.option("--jitter", type=click.FloatRange(0, 0.9), default=0.0, help="Variable frame rate.")
@click.option("--still", is_flag=True, help="The camera stays in place instead of following.")
@click.option("--tilt", type=click.FloatRange(-20, 20), default=0.0, help="Degrees.")
@click.option("--haze", type=click.FloatRange(0, 1), default=0.0)
@click.option("--blur", type=click.FloatRange(0, 1), default=0.0)
@click.option("--height", type=click.FloatRange(1.0, 2.2), default=1.78, show_default=True,
              help="Of the swimmer, metres.")  # fmt: skip
@click.option("--girth", type=click.FloatRange(0.7, 1.4), default=1.0, show_default=True,
              help="Thickness of trunk and limbs against the usual (film-like style).")  # fmt: skip
@click.option("--shake", type=click.FloatRange(0, 60), default=0.0, help="Pixels: held by hand.")
@click.option("--rolling", type=click.FloatRange(0, 33), default=0.0,
              help="Milliseconds in which the sensor is read from top to bottom.")  # fmt: skip
@click.option("--sun", type=click.FloatRange(0, 1), default=0.0,
              help="0 a hall, 1 the open air at noon (film-like style).")  # fmt: skip
@click.option("--company", is_flag=True, help="Somebody in the next lane (film-like style).")
@click.option("--style", type=click.Choice(list(STYLES)), default="plain", show_default=True)
@click.option(
    "--cut", type=click.Choice(SUITS), default="jammer", show_default=True,
    help="Of the suit, in the film-like style.",
)  # fmt: skip
@click.option(
    "--drill",
    metavar="ID",
    help="A drill of the catalogue instead of a stroke; its own view and motion.",
)
@click.option("--dots", is_flag=True, help="Dots on the joints, to be followed by.")
@click.option("--rotation", type=click.Choice(["0", "90", "270"]), default="0")
@click.pass_context
def sim(  # type: ignore[no-untyped-def]
    context: click.Context, out: Path, stroke, view, rate, fps, seconds, seed, faults, stored_fps,
    jitter, still, tilt, haze, blur, height, girth, shake, rolling, sun, company, style, cut, drill,
    dots, rotation,
) -> None:  # fmt: skip
    """Film the model swimmer to OUT (MP4), with OUT.truth.json and OUT.events.csv beside it."""
    if not out.parent.is_dir():
        click.echo(f"There is no folder {out.parent}.", err=True)
        sys.exit(1)
    if drill is not None:
        _drill(context, drill, out, seconds, fps, height, dots)
    else:
        conditions = Conditions(
            haze=haze, blur=blur, tilt_deg=tilt, rotation_deg=int(rotation), shake_px=shake,
            company=company, rolling_s=rolling / 1000, sun=sun,
        )  # fmt: skip
        take = Take(
            usual_swim(stroke, rate, seed), Build(height, girth=girth), view=view, fps=fps,
            seconds=seconds, stored_fps=stored_fps, jitter=jitter, still=still,
            conditions=conditions, dots=dots, style=style, cut=cut,
        )  # fmt: skip
        try:
            take = with_faults(take, faults)
        except ValueError as error:
            raise click.UsageError(f"--fault: {error}") from error
        film(take, out)
    beside = out.with_suffix("").name
    click.echo(f"{out}, with {beside}.truth.json and {beside}.events.csv")
