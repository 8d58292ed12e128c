"""Causes of a trouble, ranked by what is seen, what is answered and what the record shows. Rule 10.

    weight(cause) = common x product over answers P(answer | cause) x product over facts R(fact, cause)

normalised to shares. P is HIT for the answers a cause is known for (shared among them), the rest for the
others; a question a cause says nothing of
tells nothing (1 / number of answers). R is FOR where the fact speaks for the cause, and 1 elsewhere. HIT and
FOR are own judgement: an answer is
right about five times in six, and a fact speaks strongly without ever deciding alone.
Source: Bayes' rule with independent answers (naive Bayes).
"""

from __future__ import annotations

from collections.abc import Collection, Mapping

from ..common.errors import DomainError
from ..common.working import Data
from ..practice.troubles import CAUSES, FACTS, TROUBLES, Link, Question, Trouble

HIT = 0.85
FOR = 3.0
AGAINST = 0.05  # own judgement: what the record rules out comes last, and is still named


class Evidence(Data):
    """What spoke for or against one cause: times its weight was multiplied."""

    says: str
    times: float


class Ranked(Data):
    """share: of all causes of this trouble; not a frequency, a weight of what is known. schools: other ways
    back that makers swear by.
    """

    cause: str
    title: str
    why: str
    next_time: str
    back: str
    schools: list[str] = []
    share: float
    evidence: list[Evidence]


def trouble_of(code: str) -> Trouble:
    """Raises DomainError for a trouble that the table does not hold."""
    found = next((one for one in TROUBLES if one.code == code), None)
    if found is None:
        raise DomainError(
            argument="trouble",
            value=code,
            allowed="it is one of the table",
            way_out="Choose what is seen.",
            code="no-trouble",
        )
    return found


def diagnose(trouble: str, answers: Mapping[str, str], facts: Collection[str]) -> list[Ranked]:
    """Most likely first.

    answers  question -> answer, as many as there are; a question left open tells nothing
    facts    what the record shows or the person told
    Raises DomainError for an unknown trouble, question, answer or fact.
    """
    found = trouble_of(trouble)
    questions = {one.code: one for one in found.questions}
    for question, answer in answers.items():
        if question not in questions or answer not in [code for code, _ in questions[question].answers]:
            raise DomainError(
                argument="answer",
                value=f"{question}: {answer}",
                allowed="it is one of the table",
                way_out="Choose one of the answers.",
                code="no-answer",
            )
    for fact in facts:
        if fact not in FACTS:
            raise DomainError(
                argument="fact",
                value=fact,
                allowed="it is one of the table",
                way_out="Choose one of the list.",
                code="no-fact",
            )
    ranked = [_weigh(link, questions, answers, facts) for link in found.links]
    total = sum(weight for weight, _, _ in ranked)
    rows = [
        Ranked(
            cause=link.cause,
            title=CAUSES[link.cause].title,
            why=CAUSES[link.cause].why,
            next_time=CAUSES[link.cause].next_time,
            back=link.back,
            schools=list(link.schools),
            share=weight / total,
            evidence=evidence,
        )
        for weight, link, evidence in ranked
    ]
    return sorted(rows, key=lambda one: -one.share)


def _weigh(
    link: Link, questions: Mapping[str, Question], answers: Mapping[str, str], facts: Collection[str]
) -> tuple[float, Link, list[Evidence]]:
    weight, evidence = link.common, []
    for code, answer in answers.items():
        question = questions[code]
        chance, even = _chance(link, question, answer), 1 / len(question.answers)
        weight *= chance
        if chance != even:
            words = next(words for one, words in question.answers if one == answer)
            evidence.append(Evidence(says=f"{question.ask.rstrip('?.')}: {words}", times=chance / even))
    for fact in facts:
        if fact in CAUSES[link.cause].facts:
            weight *= FOR
            evidence.append(Evidence(says=FACTS[fact], times=FOR))
        if fact in CAUSES[link.cause].against:
            weight *= AGAINST
            evidence.append(Evidence(says=FACTS[fact], times=AGAINST))
    return weight, link, evidence


def _chance(link: Link, question: Question, answer: str) -> float:
    """P(answer | cause)."""
    many, usual = len(question.answers), link.expects.get(question.code, ())
    if not usual or len(usual) == many:
        return 1 / many
    return HIT / len(usual) if answer in usual else (1 - HIT) / (many - len(usual))


def commonest(trouble: str) -> str:
    """What always guessing the commonest cause would say."""
    return max(trouble_of(trouble).links, key=lambda link: link.common).cause
