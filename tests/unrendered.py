"""A workbench that renders nothing, for tests of what is done with a patch and not of its sound."""

from kessel.checks import ChainLevels
from kessel.worker import JobReply, Levels, Match, Render


def unrendered(audio=None):
    """What takes the place of ``Workbench.ask``: levels are empty, a match is -2.5 dB, renderings are ``audio``.

    All else, and renderings without ``audio``, are answered with a problem in words.
    """
    told = {Levels: JobReply(levels=ChainLevels()), Match: JobReply(number=-2.5)}
    if audio is not None:
        told[Render] = JobReply(audio=audio)

    def ask(job, tell):
        tell(told.get(type(job), JobReply(problem="nothing is measured in this test")))
        return 0

    return ask
