"""Work in steps: order, cancelling, starting anew, and what a late answer does."""

from kessel.desk.measuring.stepped_work import SteppedWork


class Worker:
    """Notes the jobs that are given up."""

    def __init__(self):
        self.given_up = []

    def give_up(self, job):
        self.given_up.append(job)


class Steps:
    """Steps that are answered by hand."""

    def __init__(self):
        self.asked, self.stored = [], []

    def step(self, name, goes_on=True):
        def ask(done):
            self.asked.append((name, done))
            return len(self.asked)

        def store():
            self.stored.append(name)
            return goes_on

        self.store = getattr(self, "store", {}) | {name: store}
        return ask

    def answer(self, name):
        next(done for n, done in self.asked if n == name)(self.store[name])


def work_of(*names, stops=""):
    steps, worker = Steps(), Worker()
    work = SteppedWork(worker)
    work.start([steps.step(n, n != stops) for n in names])
    return work, steps, worker


def test_steps_are_done_one_after_the_other():
    work, steps, _ = work_of("a", "b")
    assert [n for n, _ in steps.asked] == ["a"] and work.running and work.left == 2
    steps.answer("a")
    assert [n for n, _ in steps.asked] == ["a", "b"] and work.left == 1
    steps.answer("b")
    assert steps.stored == ["a", "b"] and not work.running and work.left == 0


def test_nothing_to_do_is_over_at_once():
    work, _, _ = work_of()
    assert not work.running
    work.wait(lambda: False, 60.0)


def test_a_step_that_fails_ends_the_work_and_stays():
    work, steps, _ = work_of("a", "b", stops="a")
    steps.answer("a")
    assert not work.running and work.left == 2 and len(steps.asked) == 1


def test_what_is_cancelled_gives_up_its_job_and_takes_no_late_answer():
    work, steps, worker = work_of("a", "b")
    work.cancel()
    assert worker.given_up == [1] and not work.running
    steps.answer("a")
    assert steps.stored == [] and len(steps.asked) == 1


def test_starting_anew_replaces_what_runs():
    work, steps, worker = work_of("a", "b")
    work.start([steps.step("c")])
    assert worker.given_up == [1]
    steps.answer("a")
    assert steps.stored == [] and work.running
    steps.answer("c")
    assert steps.stored == ["c"] and not work.running


def test_a_step_adds_another():
    work, steps, _ = work_of("a")
    next(done for n, done in steps.asked if n == "a")(lambda: work.then(steps.step("b")))
    assert [n for n, _ in steps.asked] == ["a", "b"] and work.running
    steps.answer("b")
    assert not work.running


def test_a_step_without_a_job_is_answered_within():
    steps, worker = Steps(), Worker()
    work = SteppedWork(worker)

    def gone(done):
        done(lambda: True)

    work.start([gone, gone, steps.step("a")])
    assert [n for n, _ in steps.asked] == ["a"]
    work.cancel()
    assert worker.given_up == [1]
