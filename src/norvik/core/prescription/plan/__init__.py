"""From chosen focuses to weeks, sessions and sets that add up. Pure: dates come in as values."""

from norvik.core.pool import Pool
from norvik.core.prescription.plan.build import Plan, Session, Week, build_plan
from norvik.core.prescription.plan.request import FocusRequest, PlanRequest

__all__ = ["FocusRequest", "Plan", "PlanRequest", "Pool", "Session", "Week", "build_plan"]
