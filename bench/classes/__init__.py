"""Classes whose truth is known, to judge findings by: made by three generators that assume different things."""

from .planted import Planted, PlantedClass

__all__ = ["Planted", "PlantedClass"]
