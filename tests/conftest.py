"""Fixtures that all tests share: the demo as a value and as a folder."""

from __future__ import annotations

import os

os.environ.setdefault("PYTEST_QT_API", "pyside6")

from datetime import datetime

import pytest
from hypothesis import HealthCheck, settings

from homunculus import demo
from homunculus.core.session import Session
from homunculus.store.folder import decode, read_facts

settings.register_profile("check", deadline=None, max_examples=60, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("check")


@pytest.fixture(scope="session")
def demo_document():
    file = demo.HERE / "job.json"
    return decode(file.read_bytes(), str(file))


@pytest.fixture(scope="session")
def demo_facts(demo_document):
    return read_facts(demo.HERE, demo_document.job)


@pytest.fixture
def session(demo_document, demo_facts):
    return Session(demo_document.job, demo_facts, demo_document.pins)


@pytest.fixture
def folder(tmp_path):
    """A copy of the demo on the days that it was written for."""
    target = tmp_path / "the-drowned-lamp"
    demo.copy_to(target, demo.REFERENCE_NOW.date())
    return target


@pytest.fixture
def now() -> datetime:
    return demo.REFERENCE_NOW
