"""From chosen focuses to weeks, sessions and sets that add up. Pure: dates come in as values."""

from norvik.core.plan.build import Plan, Session, Week, build_plan
from norvik.core.plan.wish import FocusWish, PlanWish
from norvik.core.pool import Pool

__all__ = ["FocusWish", "Plan", "PlanWish", "Pool", "Session", "Week", "build_plan"]
