"""``yare-keel``: float, gz and report for a boat file; serve and demo for the pages."""

import dataclasses
import gc
import json
import math
import os
import sys
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer

from yarekeel.cli import trials, underway
from yarekeel.cli.words import show
from yarekeel.core.errors import InvalidInput, YareKeelError
from yarekeel.core.findings import Finding
from yarekeel.core.hydrostatics.afloat import Afloat
from yarekeel.core.hydrostatics.equilibrium import required_volume
from yarekeel.core.stability.righting import righting_curve
from yarekeel.exchange import bundle
from yarekeel.stages.afloat import afloat as float_stage
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive.speeds import points as drive_points
from yarekeel.stages.judging.report import report
from yarekeel.units import SYSTEMS, System, said, say

app = typer.Typer(
    add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False, help="Size, float, test and mend a small boat."
)
BoatArgument = Annotated[Path, typer.Argument(metavar="BOAT.json", help="A boat file, see docs/boat-file.md.")]
JsonOption = Annotated[bool, typer.Option("--json", help="Print JSON instead of text.")]
MOST_ANGLES = 2000


def main() -> None:
    """Run a command; any error of the user's is one sentence on standard error and exit code 2."""
    try:
        app()
    except YareKeelError as error:
        where = f"{error.field}: " if isinstance(error, InvalidInput) and error.field not in str(error) else ""
        print(f"yare-keel: {where}{error}", file=sys.stderr)
        sys.exit(2)


@app.command("float")
def float_command(boat: BoatArgument, as_json: JsonOption = False) -> None:
    """Where the boat rests in the water, and whether that meets its brief."""
    craft = bundle.load(boat)
    result = float_stage.assess(craft)
    if as_json:
        print(json.dumps(_float_json(result), ensure_ascii=False, indent=1, allow_nan=False))
        return
    system = _system(craft)
    show(f"{craft.design.name}: {say(craft.total.mass, 'mass', system)} in water of {craft.density:.1f} kg/m³")
    if result.afloat and result.outputs:
        a, o = result.afloat, result.outputs
        show(f"  draft   {say(o.draft_bow, 'draft', system)} bow mark, {say(o.draft_stern, 'draft', system)} stern mark")
        show(f"  trim    {say(o.trim, 'trim', system)}; {say(o.heel, 'heel', system)}")
        show(f"  free    {say(a.freeboard, 'length', system)} at the lowest point of the deck edge")
        show(f"  GM      {say(a.gm_transverse, 'length', system)}, longitudinal {say(a.gm_longitudinal, 'length', system)}")
    for finding in result.findings:
        words = said(finding, system)
        show(f"  [{words.severity}] {words.title}. {words.sentence}")


def _float_json(result: float_stage.FloatAssessment) -> dict[str, Any]:
    a = result.afloat
    return {
        "floats": result.floats,
        "heel_deg": math.degrees(a.attitude.heel) if a else None,
        "trim_deg": math.degrees(a.attitude.trim) if a else None,
        "origin_height_m": a.attitude.origin_height if a else None,
        "volume_m3": a.volume if a else None,
        "center_of_buoyancy_m": list(a.buoyancy) if a else None,
        "waterplane_area_m2": a.waterplane_area if a else None,
        "gm_transverse_m": a.gm_transverse if a else None,
        "gm_longitudinal_m": a.gm_longitudinal if a else None,
        "stable": a.equilibrium.stable if a else False,
        "freeboard_min_m": a.freeboard if a else None,
        "spread": _spread_json(a, result),
        "findings": [_finding_json(f) for f in result.findings],
    }


def _spread_json(a: Afloat | None, result: float_stage.FloatAssessment) -> dict[str, float | None]:
    s = result.spread
    if a is None or s is None:
        return {}
    return {
        "mass_kg": s.mass,
        "heel_deg": math.degrees(s.heel),
        "trim_deg": math.degrees(s.trim),
        "origin_height_m": s.origin_height,
        "draft_bow_m": s.draft_bow,
        "draft_stern_m": s.draft_stern,
        "gm_transverse_m": s.gm,
        "freeboard_min_m": s.freeboard,
    }


def _finding_json(finding: Finding) -> dict[str, Any]:
    words = said(finding)
    return {
        "code": words.code,
        "severity": words.severity,
        "title": words.title,
        "sentence": words.sentence,
        "values": dict(finding.values),
        "source": dataclasses.asdict(finding.source),
        "remedies": [text for text, _ in words.remedies],
    }


@app.command("report")
def report_command(
    boat: BoatArgument,
    stage: Annotated[str, typer.Option(help="One stage only: brief, shape, weights, float, stability, drive, underway.")] = "",
    as_json: JsonOption = False,
) -> None:
    """Every stage's figures and findings, as the pages have them."""
    craft = bundle.load(boat)
    stages = report(craft, stage)
    if as_json:
        data = {s.stage: {"figures": s.by_name(), "findings": [_finding_json(f) for f in s.findings]} for s in stages}
        print(json.dumps({"stages": data}, ensure_ascii=False, indent=1, allow_nan=False))
        return
    system = _system(craft)
    for s in stages:
        show(s.stage.capitalize())
        for row, value in s.figures:
            if value is not None:
                show(f"  {row.name.replace('_', ' ').replace('.', ' '):22}{say(value, row.kind, system)}")
        for finding in s.findings:
            words = said(finding, system)
            show(f"  [{words.severity}] {words.title}. {words.sentence}")


def _system(craft: Craft) -> System:
    """The units a boat of its kind is spoken of in."""
    return SYSTEMS["mm_g" if craft.design.brief.kind == "model" else "mm_kg"]


@app.command("gz")
def gz_command(
    boat: BoatArgument,
    angles: Annotated[str, typer.Option(help="FROM:TO:STEP in degrees of heel.")] = "0:90:5",
    as_json: JsonOption = False,
) -> None:
    """The righting arm GZ at each heel, with sinkage and trim free."""
    heels = _angles(angles)
    craft = bundle.load(boat)
    total = craft.total
    volume = required_volume(craft.kernel, total.mass, craft.density)
    curve = righting_curve(
        hull=craft.hull, displaced=volume, gravity=total.centre, heels=[math.radians(h) for h in heels], kernel=craft.kernel
    )
    points = [
        {"heel_deg": heel, "gz_m": p.arm, "trim_deg": math.degrees(p.trim), "origin_height_m": p.origin_height}
        for heel, p in zip(heels, curve.points, strict=False)
    ]
    if as_json:
        print(json.dumps({"points": points}, indent=1, allow_nan=False))
        return
    print(" heel        GZ      trim")
    for p in points:
        print(f"{p['heel_deg']:5.1f}°{p['gz_m'] * 1000:9.2f} mm{p['trim_deg']:8.2f}°")
    if curve.stopped is not None:
        show(f"From {math.degrees(curve.stopped):.1f}° on no trim short of standing on end balances it.")


@app.command("thrust")
def thrust_command(
    boat: BoatArgument,
    throttle: Annotated[float, typer.Option(help="Percent, 0 to 100.")] = 100.0,
    speeds: Annotated[str, typer.Option(help="FROM:TO:STEP in m/s.")] = "0:6:0.5",
    as_json: JsonOption = False,
) -> None:
    """What the motors give at each speed: thrust, turns, current, voltage and power."""
    if not 0 <= throttle <= 100:
        raise InvalidInput("throttle", "Option --throttle must be a percentage from 0 to 100.")
    asked = _range(speeds, "speeds", "m/s, such as 0:6:0.5, rising, from 0 to 100", 0, 100)
    points = drive_points(bundle.load(boat).design, throttle / 100, np.array(asked))
    if as_json:
        rows = [
            {
                "speed_ms": p.speed,
                "thrust_n": p.thrust,
                "rpm": p.rpm,
                "current_a": p.current,
                "volts": p.volts,
                "power_w": p.power,
            }
            for p in points
        ]
        print(json.dumps({"points": rows}, indent=1, allow_nan=False))
        return
    print("   speed     thrust  turns/min   current  voltage    power")
    for p in points:
        rest = (
            ""
            if p.rpm is None or p.volts is None or p.power is None
            else f"{p.rpm:11.0f}{p.current:8.1f} A{p.volts:7.2f} V{p.power:7.0f} W"
        )
        print(f"{p.speed:6.2f} m/s{p.thrust:8.2f} N{rest}")


@app.command("speed")
def speed_command(
    boat: BoatArgument,
    speeds: Annotated[str, typer.Option(help="FROM:TO:STEP in m/s.")] = "0.5:6:0.5",
    as_json: JsonOption = False,
) -> None:
    """What holds the boat back at each speed, part by part, its trim there, and the thrust of its drive."""
    underway.speeds(boat, _range(speeds, "speeds", "m/s, such as 0.5:6:0.5, rising, from 0 to 60", 0, 60), as_json)


@app.command("run")
def run_command(
    boat: BoatArgument,
    course: underway.CourseArgument,
    seed: underway.SeedOption = None,
    gpx: underway.GpxOption = None,
    as_json: JsonOption = False,
) -> None:
    """A course followed in time; with a seed, the noisy log that a stand-in for the water gives of it."""
    underway.followed(boat, course, seed, gpx, as_json)


@app.command("trial")
def trial_command(boat: BoatArgument, readings: trials.ReadingsArgument, as_json: JsonOption = False) -> None:
    """A day's readings against the prediction, and the boat that would explain them."""
    trials.trial(boat, readings, as_json, _system)


@app.command("fixes")
def fixes_command(boat: BoatArgument, readings: trials.ReadingsArgument, as_json: JsonOption = False) -> None:
    """What may be the cause of a day's readings, in order, and what each fix would cost."""
    trials.fixes(boat, readings, as_json, _system)


def _angles(text: str) -> list[float]:
    return _range(text, "angles", "degrees, such as 0:90:5, rising, from -180 to 180", -180, 180)


def _range(text: str, option: str, what: str, least: float, most: float) -> list[float]:
    """The numbers of FROM:TO:STEP. Raises InvalidInput."""
    wanted = InvalidInput(option, f"Option --{option} must be FROM:TO:STEP in {what}.")
    try:
        start, stop, step = (float(part) for part in text.split(":"))
    except ValueError:
        raise wanted from None
    if not (least <= start <= stop <= most and step > 0 and math.isfinite(step)) or (stop - start) / step > MOST_ANGLES:
        raise wanted
    return [start + k * step for k in range(int((stop - start) / step + 1e-9) + 1)]


PortOption = Annotated[int | None, typer.Option("--port", min=0, max=65535, help="First port to try; the next free one is taken.")]
DataOption = Annotated[Path | None, typer.Option("--data", file_okay=False, help="Folder for the data, instead of your own data folder.")]
BrowserOption = Annotated[bool, typer.Option("--no-browser", help="Do not open a browser.")]


ShareOption = Annotated[bool, typer.Option("--share", help="Open pond sheets to phones on the local network, each by a one-time link.")]
ShareAtOption = Annotated[str | None, typer.Option("--share-at", help="The address to share at; this machine's own for none.")]
CertOption = Annotated[Path | None, typer.Option("--cert", help="A certificate (PEM): pond sheets are shared over HTTPS.")]
KeyOption = Annotated[Path | None, typer.Option("--key", help="The certificate's key (PEM).")]
BehindOption = Annotated[str | None, typer.Option("--behind", help="The address at which a reverse proxy with a log-in serves the pages.")]
ListenOption = Annotated[str, typer.Option("--listen", help="Where to listen for that proxy; goes with --behind.")]


@app.command("serve")
def serve_command(
    port: PortOption = None,
    data: DataOption = None,
    no_browser: BrowserOption = False,
    share: ShareOption = False,
    share_at: ShareAtOption = None,
    cert: CertOption = None,
    key: KeyOption = None,
    behind: BehindOption = None,
    listen: ListenOption = "127.0.0.1",
) -> None:
    """Serve the pages on 127.0.0.1, with --share pond sheets on the local network, with --behind for a reverse proxy."""
    gc.disable()  # until all is loaded; the application puts it on again
    from yarekeel.web.serving import ADDRESS, Proxied, Share, serve

    given = any(v is not None for v in (share_at, cert, key))
    if given and not share:
        raise YareKeelError("--share-at, --cert and --key go with --share.")
    if listen != ADDRESS and behind is None:
        raise YareKeelError("The pages have no log-in: --listen goes with --behind, the address of a reverse proxy that asks for one.")
    proxied = Proxied(behind.rstrip("/"), listen) if behind else None
    serve(port, data, browser=not no_browser, demo=False, share=Share(share_at, cert, key) if share else None, proxied=proxied)
    _end()


@app.command("demo")
def demo_command(
    port: PortOption = None,
    data: DataOption = None,
    no_browser: BrowserOption = False,
    reset: Annotated[bool, typer.Option("--reset", help="Put the demo boats back as new, and stop.")] = False,
) -> None:
    """Serve the pages with the demo boats, kept apart from your own data in a folder named demo."""
    gc.disable()  # as above
    from yarekeel.web.serving import serve

    serve(port, data, browser=not no_browser, demo=True, reset=reset)
    _end()


def _data(data: Path | None) -> Path:
    from yarekeel.web.settings import DATABASE, data_folder

    return data_folder(data) / DATABASE


@app.command("backup")
def backup_command(
    file: Annotated[Path | None, typer.Argument(help="A file that is not there yet; the data's own backups for none.")] = None,
    data: DataOption = None,
) -> None:
    """Copy all boats into one file, also while they are being served."""
    from yarekeel.store.backups import back_up

    show(f"Copied to {back_up(_data(data), 'asked', file)}.")


@app.command("archive")
def archive_command(
    boat: Annotated[str, typer.Argument(metavar="BOAT", help="A boat of the yard, by its number or its name.")],
    file: Annotated[Path, typer.Argument(metavar="FILE.zip", help="A file that is not there yet.")],
    data: DataOption = None,
) -> None:
    """Write a boat with everything (revisions, meshes, photos, tracks, trials, sheets) to one ZIP; the yard takes it back in."""
    from yarekeel.cli.bindery import boat_named
    from yarekeel.store import archives
    from yarekeel.store.engine import open_database
    from yarekeel.store.yard import Yard

    if file.exists():
        raise YareKeelError(f"{file} is there already; name another.")
    if not _data(data).is_file():
        raise YareKeelError(f"There is no yard at {_data(data)}.")
    yard = Yard(open_database(_data(data)))
    try:
        file.write_bytes(archives.written(yard, boat_named(yard, boat)))
    finally:
        yard.close()
    show(f"Written to {file}.")


@app.command("binder")
def binder_command(
    boat: Annotated[str, typer.Argument(metavar="BOAT", help="A boat of the yard, by its number or its name, or a boat file.")],
    file: Annotated[Path, typer.Argument(metavar="FILE.pdf", help="A file that is not there yet.")],
    revision: Annotated[str, typer.Option("--revision", help="Its letter; the latest for none.")] = "",
    paper: Annotated[str, typer.Option("--paper", help="A4 or Letter.")] = "A4",
    data: DataOption = None,
) -> None:
    """Bind a boat into one PDF: brief, lines, weights, float, stability, drive, under way, trials, fixes, history, cautions."""
    from yarekeel.cli import bindery

    if file.exists():
        raise YareKeelError(f"{file} is there already; name another.")
    bindery.bind(boat, file, revision, paper, _data(data))
    show(f"Written to {file}.")


@app.command("patterns")
def patterns_command(
    boat: BoatArgument,
    out: Annotated[Path, typer.Option("--out", help="A folder for the files; made if it is not there.")],
    frames: Annotated[str, typer.Option("--frames", help="How far apart, such as 300mm, or stations with ; between.")] = "",
    skin: Annotated[str, typer.Option("--skin", help="Thickness of the skin, taken off.")] = "",
    ring: Annotated[str, typer.Option("--ring", help="Width of frames that are rings.")] = "",
    keelson: Annotated[str, typer.Option("--keelson", help="Notch for it, width x depth.")] = "",
    clamp: Annotated[str, typer.Option("--clamp", help="Notches for the sheer clamps, width x depth.")] = "",
    limber: Annotated[str, typer.Option("--limber", help="Radius of limber holes.")] = "",
    panels: Annotated[bool, typer.Option("--panels", help="The panels that develop too, unrolled.")] = False,
    stitch: Annotated[str, typer.Option("--stitch", help="Holes along their seams, how far apart x how far off the edge.")] = "",
    lap: Annotated[str, typer.Option("--lap", help="Laps along their seams, this wide.")] = "",
    bend: Annotated[str, typer.Option("--bend", help="Folded from one sheet: inner radius x thickness.")] = "",
    sheets: Annotated[
        str, typer.Option("--sheets", help="Frames and panels on sheets of a size, such as 2440x1220, with a cutting list.")
    ] = "",
    thickness: Annotated[str, typer.Option("--thickness", help="Of these sheets.")] = "",
    pieces: Annotated[str, typer.Option("--pieces", help="The hull in pieces for a printer's bed, such as 220x220x250.")] = "",
    wall: Annotated[str, typer.Option("--wall", help="Of these pieces; solid without.")] = "",
    foam: Annotated[bool, typer.Option("--foam", help="Templates for a hot wire, a pair for each block.")] = False,
    paper: Annotated[str, typer.Option("--paper", help="A4, Letter or A3.")] = "A4",
) -> None:
    """Write the hull's patterns at full size: frames as a PDF over sheets of a printer, a DXF, SVGs and the set-up as CSV; and what
    else is asked for."""
    from yarekeel.cli import pattern_files
    from yarekeel.exchange.patterns.order import Order, PanelOrder
    from yarekeel.exchange.patterns.printing import PieceOrder
    from yarekeel.exchange.patterns.sheets import SheetOrder

    every, at = ("", frames) if ";" in frames else (frames, "")
    order = Order(every=every, at=at, skin=skin, ring=ring, keelson=keelson, clamp=clamp, limber=limber)
    more = pattern_files.More(
        panels=PanelOrder(stitch, lap, bend) if panels else None,
        foam=foam,
        sheets=SheetOrder(sheet=sheets, thickness=thickness) if sheets else None,
        pieces=PieceOrder(bed=pieces, wall=wall) if pieces else None,
    )
    for file in pattern_files.write(boat, out, order, paper, more):
        show(f"Written to {file}.")


@app.command("restore")
def restore_command(
    file: Annotated[Path | None, typer.Argument(help="A backup; the newest whole one for none.")] = None,
    data: DataOption = None,
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask.")] = False,
) -> None:
    """Put a backup in the place of the boats that are there; these are kept beside it. End the program that serves them first."""
    from yarekeel.store import backups

    database = _data(data)
    chosen = file or backups.newest_whole(database)
    if chosen is None:
        raise YareKeelError(f"There is no whole backup in {backups.folder_of(database)}; name a file.")
    if not yes and not typer.confirm(f"Put {chosen} in the place of {database}?"):
        raise YareKeelError("Nothing was changed.")
    kept = backups.restore(database, chosen)
    show(f"{chosen} is in place." + (f" What was there is kept as {kept}." if kept else ""))


def _end() -> None:
    """Leave at once: what was confirmed is saved, and no sum that is still under way is waited for."""
    sys.stdout.flush()
    sys.stderr.flush()
    os._exit(0)
