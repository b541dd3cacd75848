"""A part's story on paper."""

from pounce.base.pdf import register_fonts
from pounce.route.log import log_of
from pounce.route.results import Results, there
from pounce.sheet.logpage import Told, story_page


def story_pdf(results: Results) -> bytes:
    """The story of the job as a PDF of one page. UserFault where the logbook is not read."""
    register_fonts()
    method = there(results.metal)
    told = Told(results.job.name, method.metal.name, method.mould.name, method.pattern.name)
    return story_page(told, there(log_of(results)), results.job.pattern.paper)
