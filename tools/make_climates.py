"""Writes the shipped synthetic climates. Same seed, same bytes."""

from pathlib import Path

from nuthatch.core.climate.epw import write_epw
from nuthatch.core.climate.generator import RECIPES, make

if __name__ == "__main__":
    folder = Path(__file__).parents[1] / "src" / "nuthatch" / "data" / "climates"
    for key, recipe in RECIPES.items():
        (folder / f"{key}.epw").write_bytes(write_epw(make(recipe)))
        print(key)
