"""The scripting contract's manners: errors with codes, order kept, nothing printed that is not a number, no Django needed."""

from __future__ import annotations

import json
import subprocess
import sys
import unittest

from hobrel.core.jobs import run_jobs


class Contract(unittest.TestCase):
    def test_bad_jobs_answer_with_a_code_and_do_not_stop_the_rest(self) -> None:
        cases = [
            ({"kind": "nonsense"}, "bad_job"),
            ({"kind": "line", "x": [1, 2], "y": [1, 2, 3]}, "bad_job"),
            ({"kind": "line", "x": [1, 2], "y": [1, 2], "colour": "red"}, "bad_job"),
            ({"kind": "line", "x": [1], "y": [1]}, "too_few_points"),
            ({"kind": "line", "x": [2, 2, 2], "y": [1, 2, 3]}, "too_few_points"),
            ({"kind": "line", "x": [1, 2, 3], "y": [1, 2, 3], "uy": [0.1, 0, 0.1]}, "bad_job"),
            ({"kind": "summary", "values": ["2.5", "two"]}, "bad_number"),
            ({"kind": "summary", "values": []}, "too_few_points"),
            ({"kind": "summary", "values": [1, float("nan")]}, "bad_number"),
            ({"kind": "convert", "value": 1, "from": "m", "to": "s"}, "bad_unit"),
            ({"kind": "convert", "value": 1, "from": "cubits", "to": "s"}, "bad_unit"),
            ({"kind": "round", "value": 1, "u": 0}, "bad_number"),
            ({"kind": "constant", "symbol": "zeta"}, "bad_formula"),
            ("not a job", "bad_job"),
        ]
        results = run_jobs([job for job, _ in cases] + [{"id": "last", "kind": "summary", "values": ["1", None, "3"]}])
        for (job, code), result in zip(cases, results, strict=False):
            with self.subTest(job):
                self.assertFalse(result["ok"])
                self.assertEqual(result["error"]["code"], code)
                self.assertGreater(len(result["error"]["message"]), 10)
        self.assertEqual((results[-1]["id"], results[-1]["mean"], results[-1]["left_out"]), ("last", 2.0, 1))

    def test_two_points_fix_a_line_but_not_its_uncertainty(self) -> None:
        result = run_jobs([{"id": 1, "kind": "line", "x": [1, 3], "y": [3, 7]}])[0]
        self.assertEqual((result["gradient"], result["intercept"], result["u_gradient"], result["dof"]), (2.0, 1.0, None, 0))

    def test_it_runs_as_a_command_with_django_absent(self) -> None:
        """A meta path entry that refuses Django and the applications stands in for a machine without them."""
        block = (
            "import sys\n"
            "class Refuse:\n"
            "    def find_spec(self, name, path=None, target=None):\n"
            "        parts = name.split('.')\n"
            "        if parts[0] in ('django', 'ninja') or (parts[0] == 'hobrel' and len(parts) > 1 and parts[1] != 'core'):\n"
            "            raise ImportError(name)\n"
            "sys.meta_path.insert(0, Refuse())\n"
            "sys.argv = ['core']\n"
            "import runpy, hobrel.core.analysis, hobrel.core.working, hobrel.core.presenting.pool\n"
            "runpy.run_module('hobrel.core', run_name='__main__')\n"
        )
        jobs = [{"id": 1, "kind": "constant", "symbol": "h"}, {"id": 2, "kind": "constant", "symbol": "?"}]
        done = subprocess.run([sys.executable, "-c", block], input=json.dumps(jobs), capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)
        answers = json.loads(done.stdout)
        # exact since the 2019 revision of the SI
        self.assertEqual((answers[0]["value"], answers[0]["u"]), (6.62607015e-34, 0.0))
        self.assertFalse(answers[1]["ok"])
