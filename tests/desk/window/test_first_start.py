"""The first start compiles behind a small window; who closes it does not wait."""

from __future__ import annotations

import sys

from japanner import _kernel_cache, cli
from japanner.desk.first_start import FirstStart


def test_it_shows_how_far_it_is_and_ends_by_itself(qapp, qtbot):
    says = "import time; print('Kernels 3/20', flush=True); time.sleep(0.4); print('Kernels 20/20', flush=True)"
    window = FirstStart([sys.executable, "-c", says])
    window.show()
    qtbot.waitUntil(lambda: window.bar.value() == 3)
    assert window.bar.maximum() == 20
    qtbot.waitUntil(lambda: window.ended)
    assert window.whole
    assert not window.isVisible()


def test_who_closes_it_does_not_wait(qapp):
    window = FirstStart([sys.executable, "-c", "import time; time.sleep(60)"])
    window.show()
    window.close()
    assert window.ended
    assert not window.whole


def test_a_compiler_that_fails_is_no_whole_one(qapp, qtbot):
    for command in ([sys.executable, "-c", "raise SystemExit(3)"], ["/nowhere/python"]):
        window = FirstStart(command)
        qtbot.waitUntil(lambda window=window: window.ended)
        assert not window.whole


def test_it_is_asked_for_only_while_something_is_missing(monkeypatch, tmp_path):
    asked = []
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(tmp_path / "cache"))
    monkeypatch.setattr("japanner.desk.first_start.compiled_first", lambda: asked.append(1))
    monkeypatch.setattr("japanner.desk.app.run", lambda *_, **__: 7)
    assert cli.main([]) == 1  # closed while it was compiling
    _kernel_cache.mark_compiled()
    assert cli.main([]) == 7
    assert asked == [1]
