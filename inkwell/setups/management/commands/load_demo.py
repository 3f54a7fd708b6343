"""Load the demo production. What is there already stays as it is."""

import json
from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import transaction

from inkwell.accounts.models import User
from inkwell.days.models import Day
from inkwell.days.services import put_in_order
from inkwell.kit.services import read_table
from inkwell.productions.models import Membership, Production, Role
from inkwell.productions.services import create_production
from inkwell.setups.models import Setup
from inkwell.setups.services import create
from inkwell.stills.services import add as add_opened
from moth.document import load
from moth.planning.day import ShootDay
from moth.stills.marks import Marks, Record
from moth.stills.opening import open_still

FOLDER = Path(__file__).resolve().parents[2] / "demo"
PRODUCTION = "Saltmarsh Signal"
SCENES = {
    "Instrument room, after the night watch": ["keeper-instrument-room.json", "keeper-wide.json"],
    "Chart desk, night": ["watch-officer-chart-desk.json"],
    "Chart store": ["pilot-chart-store.json"],
    "Kitchen, after supper": ["keeper-kitchen.json"],
    "Office, first floor": ["watch-officer-office.json"],
    "Lamp gallery, dawn": ["keeper-lamp-gallery.json"],
}
SHOTS = {
    "Keeper, lamp gallery at dawn": ("Gallery", 40, [[470, 580]], "needs the low sun"),
    "Keeper, instrument room": ("Instrument room", 60, [], ""),
    "Keeper at the pillar, wide": ("Instrument room", 30, [], ""),
    "Pilot, chart store": ("Chart store", 45, [], ""),
    "Watch officer, office by the window": ("Office", 45, [[780, 1000]], "needs the window grey"),
}
"""Of the demo's day: where, how many minutes, when, why."""
STILLS = {"Pilot, camera test": "pilot-camera-test"}
"""Frames of our own, with what is marked in them."""


class Command(BaseCommand):
    help = __doc__

    @transaction.atomic
    def handle(self, **options):
        password = (settings.LOCAL_DIR / "demo-password").read_text().strip()
        gaffer, made = User.objects.get_or_create(
            username="gaffer", defaults={"is_staff": True, "is_superuser": True}
        )
        if made:
            gaffer.set_password(password)
            gaffer.save()
        viewer, made = User.objects.get_or_create(username="pilot")
        if made:
            viewer.set_password(password)
            viewer.save()
        production = Production.objects.filter(title=PRODUCTION, memberships__user=gaffer).first()
        production = production or create_production(gaffer, PRODUCTION)
        Membership.objects.get_or_create(
            production=production, user=viewer, defaults={"role": Role.VIEWER}
        )
        for title, files in SCENES.items():
            scene, _ = production.scenes.get_or_create(title=title)
            for name in files:
                document = load(json.loads((FOLDER / name).read_text()))
                if not Setup.objects.filter(scene=scene, title=document.title).exists():
                    create(gaffer, scene, document)
        for title, name in STILLS.items():
            if not production.stills.filter(title=title).exists():
                add_still(gaffer, production, title, name)
        if not production.gear.exists():
            read_table(production, (FOLDER / "kit.csv").read_text(), "add")
        if not production.days.exists():
            add_day(gaffer, production)
        self.stdout.write(f"Demo production '{PRODUCTION}' is loaded.")


def add_day(user, production):
    """A day of the demo's own, put in order."""
    by_title = {s.title: s.pk for s in Setup.objects.filter(scene__production=production)}
    shots = [
        {
            "setup": by_title[title],
            "room": room,
            "minutes": minutes,
            "windows": windows,
            "why": why,
            "people": ["pilot"] if title.startswith("Pilot") else [],
        }
        for title, (room, minutes, windows, why) in SHOTS.items()
        if title in by_title
    ]
    people = [
        {"name": "pilot", "begin": 600, "end": 960, "rate": 180},
        {"name": "gaffer", "begin": 420, "end": 1080, "rate": 320},
    ]
    asked = ShootDay.model_validate(
        {"date": "2026-10-15", "begin": 420, "end": 1080, "people": people, "budget": 1200}
        | {"shots": shots}
    )
    day = Day.objects.create(
        production=production,
        title="First day at the observatory",
        asked=asked.model_dump(mode="json"),
        author=user,
    )
    put_in_order(user, day.pk)


def add_still(user, production, title, name):
    """A still of the demo's own, its marks made."""
    known = json.loads((FOLDER / f"{name}.json").read_text())
    opened = open_still((FOLDER / f"{name}.jpg").read_bytes())
    record, marks = Record.model_validate(known["record"]), Marks.model_validate(known["marks"])
    add_opened(user, production, title, opened, record, marks)
