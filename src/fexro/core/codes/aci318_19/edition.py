"""The numbers in which the two unit editions differ."""

from __future__ import annotations

import math
from dataclasses import dataclass

from fexro.core.fixed import FixedDict
from fexro.core.provisions.coefficient import INCHES, MILLIMETRES, MPA, PSI, Coefficient
from fexro.core.quantities import Dimension, Unit

__all__ = [
    "IN_LB_EDITION",
    "SI_EDITION",
    "CoverNumbers",
    "DuctilityNumbers",
    "Edition",
    "LapNumbers",
    "ShearNumbers",
    "TieNumbers",
    "WallNumbers",
]


POUNDS_PER_CUBIC_FOOT = 0.45359237 / 0.3048**3  # in kg/m³


@dataclass(frozen=True)
class TieNumbers:
    """Numbers of ties and spirals (25.7).

    Attributes:
        small, large: least diameters for bars up to `small_up_to`, and for larger ones (25.7.2.2).
        small_up_to: diameter of the largest bar that the smaller ties hold.
        clear_pitch: least and largest clear pitch of spirals (25.7.3.1).
        spiral_diameter: least diameter of spirals (25.7.3.2); ties of the least size count as it.
        confining_yield: largest fyt of spirals and of confinement (20.2.2.4).
        tight_up_to: diameter of the largest bar that is bent at 4 db (25.3.2).
        hook, return_hook: least straight ends of hooks of 90 and 135°, and of 180° (25.3.2).
    """

    small: Coefficient
    large: Coefficient
    small_up_to: Coefficient
    clear_pitch: tuple[Coefficient, Coefficient]
    spiral_diameter: Coefficient
    confining_yield: Coefficient
    tight_up_to: Coefficient
    hook: Coefficient
    return_hook: Coefficient


@dataclass(frozen=True)
class ShearNumbers:
    """Numbers of one-way shear (22.5, 10.6.2, 10.7.6.5).

    Attributes:
        largest_root: of √f'c (22.5.3.1).
        with_ties, by_ratio, largest: of Vc (22.5.5.1).
        size_depth: depth in the size effect (22.5.5.1.3).
        largest_ties: of Vs (22.5.1.2).
        least_root, least_stress: of the least ties (10.6.2.2).
        close_ties: of Vs beyond which ties are closer (10.7.6.5.2).
        spacing, close_spacing: largest there.
        tie_yield: largest fyt (20.2.2.4).
    """

    largest_root: Coefficient
    with_ties: Coefficient
    by_ratio: Coefficient
    largest: Coefficient
    size_depth: Coefficient
    largest_ties: Coefficient
    least_root: Coefficient
    least_stress: Coefficient
    close_ties: Coefficient
    spacing: Coefficient
    close_spacing: Coefficient
    tie_yield: Coefficient


@dataclass(frozen=True)
class LapNumbers:
    """Numbers of development and lap splices (25.4, 25.5, 10.7.5).

    Attributes:
        tension: of √f'c in the development length in tension (25.4.2.4).
        least: shortest development length in tension and lap (25.4.2.1, 25.5.2.1, 10.7.5.2.1).
        small_bar: diameter up to which bars are small (25.4.2.5).
        grades: yield strengths of Grade 420 [60] and 550 [80].
        wide_spacing: of bars, from which no least transverse index is asked for (25.4.2.2).
        compression, compression_yield: of the development length in compression (25.4.9.2).
        least_compression: its shortest (25.4.9.1).
        compression_lap: of laps to Grade 420 [60] (25.5.5.1(a)).
        high_compression_lap: of laps beyond, (fy k − 24) db (25.5.5.1(b)).
        low_strength: f'c below which compression laps are longer (25.5.5.1).
        largest_lapped: diameter of the largest bar that may be lapped (25.5.1.1).
    """

    tension: Coefficient
    least: Coefficient
    small_bar: Coefficient
    grades: tuple[Coefficient, Coefficient]
    wide_spacing: Coefficient
    compression: Coefficient
    compression_yield: Coefficient
    least_compression: Coefficient
    compression_lap: Coefficient
    high_compression_lap: Coefficient
    low_strength: Coefficient
    largest_lapped: Coefficient


class FireSizes(FixedDict[tuple[Coefficient, ...]]):
    """Least dimensions in fire by the aggregate."""


@dataclass(frozen=True)
class CoverNumbers:
    """Cover of columns that are cast in place (20.5.1.3.1), and what fire asks of them (216.1).

    Attributes:
        indoors: not exposed; of smaller bars in the weather too.
        weather: of larger bars in the weather.
        ground: cast against it.
        large: diameter of a larger bar.
        fire: of main bars for each hour of fire resistance, and at most.
        sizes: least dimensions after 1, 1.5, 2, 3, 4 hours, by the aggregate.
    """

    indoors: Coefficient
    weather: Coefficient
    ground: Coefficient
    large: Coefficient
    fire: tuple[Coefficient, Coefficient]
    sizes: FireSizes


@dataclass(frozen=True)
class DuctilityNumbers:
    """Numbers of intermediate and special moment frames (18.4.3, 18.7).

    Attributes:
        least_length: of the zone of hoops at the ends (18.4.3.3, 18.7.5.1).
        hoop_spacing: largest of intermediate frames by the grade of the bars (18.4.3.3).
        least_dimension: of special frames (18.7.2.1).
        held_spacing, close_held_spacing: of held bars (18.7.5.2).
        high_strength: f'c beyond which more is asked for (18.7.5.2, 18.7.5.4).
        spacing: least and largest so, and the range of hx that it is spread over (18.7.5.3).
        outside_spacing: largest outside the end zones (18.7.5.5).
        strength_step: of f'c in kf (18.7.5.4).
    """

    least_length: Coefficient
    hoop_spacing: tuple[Coefficient, Coefficient]
    least_dimension: Coefficient
    held_spacing: Coefficient
    close_held_spacing: Coefficient
    high_strength: Coefficient
    spacing: tuple[Coefficient, Coefficient]
    outside_spacing: Coefficient
    strength_step: Coefficient


class WallCover(FixedDict[Coefficient]):
    """Cover of walls by their exposure."""


@dataclass(frozen=True)
class WallNumbers:
    """Numbers of walls, special walls and coupling beams (chapter 11, 18.10).

    Attributes:
        least_thickness, least_basement: of walls (11.3.1.1).
        small_bar: diameter of the largest bar that counts as small (11.6.1).
        grades: yield strengths of Grade 420 [60], 550 [80] and 690 [100].
        spacing: largest of bars (11.7.2.1, 11.7.3.1, 18.10.2.1).
        one_curtain: largest thickness with one curtain (11.7.2.3).
        squat, slender: αc of √f'c at both ends of its range (11.5.4.3).
        tension: stress of net tension at which concrete carries nothing (11.5.4.4).
        largest, largest_segment: of √f'c for a group and for a segment (11.5.4.2, 18.10.4.4).
        light: of √f'c up to which the ratios of 11.6 do, and hooks are not asked for (18.10.2.1,
            18.10.6.5(a)).
        two_curtains: of √f'c beyond which there are two curtains (18.10.2.2).
        ends: of √f'c in the least ratio at the ends (18.10.2.4).
        stories: least number of storeys over the height (18.10.3.1.2).
        element: least width of boundary elements, and of web beside flanges (18.10.6.4).
        overlap: of hoops (18.10.6.4(e)).
        boundary_ratio: over fy, beyond which boundaries have ties (18.10.6.5(b)).
        ties: largest spacings of those ties, near critical sections and elsewhere.
        diagonal: of √f'c from which short coupling beams have diagonal bars (18.10.7.2).
        beam_width: largest least width of beams (18.6.2.1).
        beam_root, beam_stress: of the least bars of beams (9.6.1.2).
        beam_hoops: largest spacing of hoops of beams (18.6.4.4, 18.10.7.4(d)).
        beam_legs: largest distance of legs with a confined whole section (18.10.7.4(d)).
        skin: largest spacing of bars beside confined diagonals (18.10.7.4(c)).
        pier_hoops, pier_beyond: spacing of hoops of piers, and how far beyond (18.10.8.1).
        rupture: of √f'c in the modulus of rupture (19.2.3.1).
        friction: stresses in the largest shear of a joint (22.9.4.4).
        cover: of walls by their exposure (20.5.1.3.1).
    """

    least_thickness: Coefficient
    least_basement: Coefficient
    small_bar: Coefficient
    grades: tuple[Coefficient, Coefficient, Coefficient]
    spacing: Coefficient
    one_curtain: Coefficient
    squat: Coefficient
    slender: Coefficient
    tension: Coefficient
    largest: Coefficient
    largest_segment: Coefficient
    light: Coefficient
    two_curtains: Coefficient
    ends: Coefficient
    stories: Coefficient
    element: Coefficient
    overlap: Coefficient
    boundary_ratio: Coefficient
    ties: tuple[Coefficient, Coefficient]
    diagonal: Coefficient
    beam_width: Coefficient
    beam_root: Coefficient
    beam_stress: Coefficient
    beam_hoops: Coefficient
    beam_legs: Coefficient
    skin: Coefficient
    pier_hoops: Coefficient
    pier_beyond: Coefficient
    rupture: Coefficient
    friction: tuple[Coefficient, Coefficient, Coefficient]
    cover: WallCover


@dataclass(frozen=True)
class Edition:
    """Coefficients with a dimension, as the edition prints them.

    Attributes:
        least_strength: smallest f'c (19.2.1.1).
        block_strength, block_step, block_full: of β1 (22.2.2.4.3).
        largest_yield: fy in flexure and axial force (20.2.2.4).
        largest_squash_yield: fy in the strength at zero eccentricity (22.4.2.1).
        largest_core_yield: Fy of structural steel in the concrete.
        modulus: of elasticity of concrete over the root of its strength (19.2.2.1).
        least_spacing: clear spacing of longitudinal bars (25.2.3).
        least_eccentricity: what stands beside 0.03 h (6.6.4.5.4).
        density_unit: that of concrete is put in, kg/m³, and its symbol.
        densities: between which the modulus follows from it (19.2.2.1(a)).
        core_ties: between which diameters ties around a core are asked for (10.7.6.1).
        held_distance: clear of a bar to one that a tie holds (25.7.2.3).
        ties, shear, laps, ductility, cover, walls: the numbers of those topics.
        density_modulus: of elasticity over the root of strength and density to 1.5 (19.2.2.1).
        light: densities up to which λ is least and from which it is one, and its rise between them
            (19.2.4.1).
    """

    name: str
    least_strength: Coefficient
    block_strength: Coefficient
    block_step: Coefficient
    block_full: Coefficient
    largest_yield: Coefficient
    largest_squash_yield: Coefficient
    largest_core_yield: Coefficient
    modulus: Coefficient
    least_spacing: Coefficient
    least_eccentricity: Coefficient
    density_unit: tuple[float, str]
    densities: tuple[float, float]
    density_modulus: Coefficient
    light: tuple[float, float, float]
    core_ties: tuple[Coefficient, Coefficient]
    held_distance: Coefficient
    ties: TieNumbers
    shear: ShearNumbers
    laps: LapNumbers
    ductility: DuctilityNumbers
    cover: CoverNumbers
    walls: WallNumbers


def _stress(number: float, unit: Unit) -> Coefficient:
    return Coefficient(number, unit, Dimension.STRESS)


def _root_stress(number: float, unit: Unit) -> Coefficient:
    root = Unit(f"√{unit.symbol}", math.sqrt(unit.size), unit.decimals)
    return Coefficient(number, root, Dimension.STRESS**0.5)


# Least dimensions of columns in fire, inches, after 1, 1.5, 2, 3 and 4 hours (216.1).
FIRE_SIZES = {
    "siliceous": (8, 9, 10, 12, 14),
    "carbonate": (8, 9, 10, 11, 12),
    "sand-lightweight": (8, 8.5, 9, 10.5, 12),
}


def _sizes(unit: Unit, inch: float) -> FireSizes:
    return FireSizes(
        {
            name: tuple(_length(inch * size, unit) for size in sizes)
            for name, sizes in FIRE_SIZES.items()
        }
    )


def _length(number: float, unit: Unit) -> Coefficient:
    return Coefficient(number, unit, Dimension.LENGTH)


def _per_length(number: float, unit: Unit) -> Coefficient:
    per = Unit(f"/{unit.symbol}", 1 / unit.size, unit.decimals)
    return Coefficient(number, per, Dimension.LENGTH**-1)


def _wall_cover(
    unit: Unit, indoors: float, weather: float, large: float, ground: float
) -> WallCover:
    given = {"indoors": indoors, "weather": weather, "weather large": large, "ground": ground}
    return WallCover({name: _length(number, unit) for name, number in given.items()})


def _per_root_stress(number: float, unit: Unit) -> Coefficient:
    root = Unit(f"/√{unit.symbol}", 1 / math.sqrt(unit.size), unit.decimals)
    return Coefficient(number, root, Dimension.STRESS**-0.5)


def _per_stress(number: float, unit: Unit) -> Coefficient:
    per = Unit(f"/{unit.symbol}", 1 / unit.size, unit.decimals)
    return Coefficient(number, per, Dimension.STRESS**-1)


SI_EDITION = Edition(
    "ACI 318-19 (SI)",
    least_strength=_stress(17, MPA),
    block_strength=_stress(28, MPA),
    block_step=_stress(7, MPA),
    block_full=_stress(55, MPA),
    largest_yield=_stress(550, MPA),
    largest_squash_yield=_stress(550, MPA),
    largest_core_yield=_stress(350, MPA),
    modulus=_root_stress(4700, MPA),
    least_spacing=_length(40, MILLIMETRES),
    least_eccentricity=_length(15, MILLIMETRES),
    density_unit=(1.0, "kg/m³"),
    densities=(1440.0, 2560.0),
    density_modulus=_root_stress(0.043, MPA),
    light=(1600.0, 2160.0, 0.00047),
    core_ties=(_length(9.5, MILLIMETRES), _length(15.9, MILLIMETRES)),
    held_distance=_length(150, MILLIMETRES),
    ties=TieNumbers(
        small=_length(9.5, MILLIMETRES),
        large=_length(12.7, MILLIMETRES),
        small_up_to=_length(32.3, MILLIMETRES),
        clear_pitch=(_length(25, MILLIMETRES), _length(75, MILLIMETRES)),
        spiral_diameter=_length(9.5, MILLIMETRES),
        confining_yield=_stress(700, MPA),
        tight_up_to=_length(16, MILLIMETRES),
        hook=_length(75, MILLIMETRES),
        return_hook=_length(65, MILLIMETRES),
    ),
    shear=ShearNumbers(
        largest_root=_root_stress(8.3, MPA),
        with_ties=_root_stress(0.17, MPA),
        by_ratio=_root_stress(0.66, MPA),
        largest=_root_stress(0.42, MPA),
        size_depth=_length(250, MILLIMETRES),
        largest_ties=_root_stress(0.66, MPA),
        least_root=_root_stress(0.062, MPA),
        least_stress=_stress(0.35, MPA),
        close_ties=_root_stress(0.33, MPA),
        spacing=_length(600, MILLIMETRES),
        close_spacing=_length(300, MILLIMETRES),
        tie_yield=_stress(420, MPA),
    ),
    laps=LapNumbers(
        tension=_root_stress(1.1, MPA),
        least=_length(300, MILLIMETRES),
        small_bar=_length(19.1, MILLIMETRES),
        grades=(_stress(420, MPA), _stress(550, MPA)),
        wide_spacing=_length(150, MILLIMETRES),
        compression=_per_root_stress(0.24, MPA),
        compression_yield=_per_stress(0.043, MPA),
        least_compression=_length(200, MILLIMETRES),
        compression_lap=_per_stress(0.071, MPA),
        high_compression_lap=_per_stress(0.13, MPA),
        low_strength=_stress(21, MPA),
        largest_lapped=_length(35.8, MILLIMETRES),
    ),
    ductility=DuctilityNumbers(
        least_length=_length(450, MILLIMETRES),
        hoop_spacing=(_length(200, MILLIMETRES), _length(150, MILLIMETRES)),
        least_dimension=_length(300, MILLIMETRES),
        held_spacing=_length(350, MILLIMETRES),
        close_held_spacing=_length(200, MILLIMETRES),
        high_strength=_stress(70, MPA),
        spacing=(_length(100, MILLIMETRES), _length(150, MILLIMETRES)),
        outside_spacing=_length(150, MILLIMETRES),
        strength_step=_stress(175, MPA),
    ),
    cover=CoverNumbers(
        indoors=_length(40, MILLIMETRES),
        weather=_length(50, MILLIMETRES),
        ground=_length(75, MILLIMETRES),
        large=_length(19, MILLIMETRES),
        fire=(_length(25, MILLIMETRES), _length(50, MILLIMETRES)),
        sizes=_sizes(MILLIMETRES, 25),
    ),
    walls=WallNumbers(
        least_thickness=_length(100, MILLIMETRES),
        least_basement=_length(190, MILLIMETRES),
        small_bar=_length(16, MILLIMETRES),
        grades=(_stress(420, MPA), _stress(550, MPA), _stress(690, MPA)),
        spacing=_length(450, MILLIMETRES),
        one_curtain=_length(250, MILLIMETRES),
        squat=_root_stress(0.25, MPA),
        slender=_root_stress(0.17, MPA),
        tension=_stress(3.5, MPA),
        largest=_root_stress(0.66, MPA),
        largest_segment=_root_stress(0.83, MPA),
        light=_root_stress(0.083, MPA),
        two_curtains=_root_stress(0.17, MPA),
        ends=_root_stress(0.5, MPA),
        stories=_per_length(0.00028, MILLIMETRES),
        element=_length(300, MILLIMETRES),
        overlap=_length(150, MILLIMETRES),
        boundary_ratio=_stress(2.8, MPA),
        ties=(_length(150, MILLIMETRES), _length(200, MILLIMETRES)),
        diagonal=_root_stress(0.33, MPA),
        beam_width=_length(250, MILLIMETRES),
        beam_root=_root_stress(0.25, MPA),
        beam_stress=_stress(1.4, MPA),
        beam_hoops=_length(150, MILLIMETRES),
        beam_legs=_length(200, MILLIMETRES),
        skin=_length(300, MILLIMETRES),
        pier_hoops=_length(150, MILLIMETRES),
        pier_beyond=_length(300, MILLIMETRES),
        rupture=_root_stress(0.62, MPA),
        friction=(_stress(3.3, MPA), _stress(11, MPA), _stress(5.5, MPA)),
        cover=_wall_cover(MILLIMETRES, 20, 40, 50, 75),
    ),
)
IN_LB_EDITION = Edition(
    "ACI 318-19 (in-lb)",
    least_strength=_stress(2500, PSI),
    block_strength=_stress(4000, PSI),
    block_step=_stress(1000, PSI),
    block_full=_stress(8000, PSI),
    largest_yield=_stress(80_000, PSI),
    largest_squash_yield=_stress(80_000, PSI),
    largest_core_yield=_stress(50_000, PSI),
    modulus=_root_stress(57_000, PSI),
    least_spacing=_length(1.5, INCHES),
    least_eccentricity=_length(0.6, INCHES),
    density_unit=(POUNDS_PER_CUBIC_FOOT, "lb/ft³"),
    densities=(90.0, 160.0),
    density_modulus=_root_stress(33, PSI),
    light=(100.0, 135.0, 0.0075),
    core_ties=(_length(0.375, INCHES), _length(0.625, INCHES)),
    held_distance=_length(6, INCHES),
    ties=TieNumbers(
        small=_length(0.375, INCHES),
        large=_length(0.5, INCHES),
        small_up_to=_length(1.27, INCHES),
        clear_pitch=(_length(1, INCHES), _length(3, INCHES)),
        spiral_diameter=_length(0.375, INCHES),
        confining_yield=_stress(100_000, PSI),
        tight_up_to=_length(0.625, INCHES),
        hook=_length(3, INCHES),
        return_hook=_length(2.5, INCHES),
    ),
    shear=ShearNumbers(
        largest_root=_root_stress(100, PSI),
        with_ties=_root_stress(2, PSI),
        by_ratio=_root_stress(8, PSI),
        largest=_root_stress(5, PSI),
        size_depth=_length(10, INCHES),
        largest_ties=_root_stress(8, PSI),
        least_root=_root_stress(0.75, PSI),
        least_stress=_stress(50, PSI),
        close_ties=_root_stress(4, PSI),
        spacing=_length(24, INCHES),
        close_spacing=_length(12, INCHES),
        tie_yield=_stress(60_000, PSI),
    ),
    laps=LapNumbers(
        tension=_root_stress(40 / 3, PSI),
        least=_length(12, INCHES),
        small_bar=_length(0.75, INCHES),
        grades=(_stress(60_000, PSI), _stress(80_000, PSI)),
        wide_spacing=_length(6, INCHES),
        compression=_per_root_stress(0.02, PSI),
        compression_yield=_per_stress(0.0003, PSI),
        least_compression=_length(8, INCHES),
        compression_lap=_per_stress(0.0005, PSI),
        high_compression_lap=_per_stress(0.0009, PSI),
        low_strength=_stress(3000, PSI),
        largest_lapped=_length(1.41, INCHES),
    ),
    ductility=DuctilityNumbers(
        least_length=_length(18, INCHES),
        hoop_spacing=(_length(8, INCHES), _length(6, INCHES)),
        least_dimension=_length(12, INCHES),
        held_spacing=_length(14, INCHES),
        close_held_spacing=_length(8, INCHES),
        high_strength=_stress(10_000, PSI),
        spacing=(_length(4, INCHES), _length(6, INCHES)),
        outside_spacing=_length(6, INCHES),
        strength_step=_stress(25_000, PSI),
    ),
    cover=CoverNumbers(
        indoors=_length(1.5, INCHES),
        weather=_length(2, INCHES),
        ground=_length(3, INCHES),
        large=_length(0.75, INCHES),
        fire=(_length(1, INCHES), _length(2, INCHES)),
        sizes=_sizes(INCHES, 1),
    ),
    walls=WallNumbers(
        least_thickness=_length(4, INCHES),
        least_basement=_length(7.5, INCHES),
        small_bar=_length(0.625, INCHES),
        grades=(_stress(60_000, PSI), _stress(80_000, PSI), _stress(100_000, PSI)),
        spacing=_length(18, INCHES),
        one_curtain=_length(10, INCHES),
        squat=_root_stress(3, PSI),
        slender=_root_stress(2, PSI),
        tension=_stress(500, PSI),
        largest=_root_stress(8, PSI),
        largest_segment=_root_stress(10, PSI),
        light=_root_stress(1, PSI),
        two_curtains=_root_stress(2, PSI),
        ends=_root_stress(6, PSI),
        stories=_per_length(0.007, INCHES),
        element=_length(12, INCHES),
        overlap=_length(6, INCHES),
        boundary_ratio=_stress(400, PSI),
        ties=(_length(6, INCHES), _length(8, INCHES)),
        diagonal=_root_stress(4, PSI),
        beam_width=_length(10, INCHES),
        beam_root=_root_stress(3, PSI),
        beam_stress=_stress(200, PSI),
        beam_hoops=_length(6, INCHES),
        beam_legs=_length(8, INCHES),
        skin=_length(12, INCHES),
        pier_hoops=_length(6, INCHES),
        pier_beyond=_length(12, INCHES),
        rupture=_root_stress(7.5, PSI),
        friction=(_stress(480, PSI), _stress(1600, PSI), _stress(800, PSI)),
        cover=_wall_cover(INCHES, 0.75, 1.5, 2, 3),
    ),
)
