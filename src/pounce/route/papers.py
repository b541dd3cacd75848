"""Which pages, outlines and tables each stop has in a build, and what draws them. Imports nothing heavy."""

from pounce.pattern.values import PatternResult
from pounce.route.results import PaperFile, Results, there

PAPER = "pounce.route.paper:"


def has_templates(pattern: PatternResult) -> bool:
    """Whether anything is drawn at 1:1 for making the pattern."""
    return "templates" in pattern.making.drawings or pattern.mount is not None or pattern.making.clay is not None


def parting_papers(results: Results) -> tuple[PaperFile, ...]:
    """The plan of a joint that is cut down."""
    parting = there(results.parting)
    if parting.cut_down is None or parting.moulded != "cut-down":
        return ()
    return (PaperFile("cut-down-plan.pdf", "template", "at 1:1", PAPER + "cut_plan_page"),)


def stock_papers(results: Results) -> tuple[PaperFile, ...]:
    """The table of dimensions, and where to drill."""
    stock = there(results.stock)
    out: list[PaperFile] = []
    if stock.lines or len(set(stock.made_factors)) > 1:
        out.append(PaperFile("dimensions.csv", "sheet", "the table", PAPER + "dimensions_table"))
    if stock.drill:
        out += [
            PaperFile("drilling-plan.pdf", "template", "at 1:1", PAPER + "drill_plan_page"),
            PaperFile("drilling-plan.csv", "template", "the table", PAPER + "drill_plan_table"),
        ]
    return tuple(out)


def cores_papers(results: Results) -> tuple[PaperFile, ...]:
    """The plan of the core boxes."""
    if not there(results.cores).cores:
        return ()
    return (PaperFile("core-boxes.pdf", "template", "at 1:1", PAPER + "box_plan_page"),)


def pattern_papers(results: Results) -> tuple[PaperFile, ...]:
    """Templates, the cut list, the rule."""
    pattern = there(results.pattern)
    out: list[PaperFile] = []
    if has_templates(pattern):
        out += [
            PaperFile("templates.pdf", "template", "at 1:1", PAPER + "templates_page"),
            PaperFile("outlines.dxf", "template", "mm", PAPER + "outlines_as_dxf"),
            PaperFile("outlines.svg", "template", "mm", PAPER + "outlines_as_svg"),
        ]
    if pattern.making.blanks:
        out.append(PaperFile("cut-list.csv", "cut-list", "the table", PAPER + "cut_list_table"))
    if results.job.pattern.rule and "rule" in pattern.making.drawings:
        out.append(PaperFile("contraction-rule.pdf", "template", "at 1:1", PAPER + "rule_page"))
    return tuple(out)
