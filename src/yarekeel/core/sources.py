"""Where a number or a rule comes from. Every formula and finding carries one of these."""

from dataclasses import dataclass
from typing import Literal

Standing = Literal["published", "mechanics", "common practice", "from memory", "your brief"]


@dataclass(frozen=True, slots=True)
class Source:
    """A citation and how far it can be trusted."""

    citation: str
    standing: Standing = "published"


MECHANICS = Source("Archimedes' principle and static equilibrium, on the hull's own mesh", "mechanics")
BRIEF = Source("Your brief for this boat", "your brief")
COMMON_PRACTICE = Source("Common practice among builders", "common practice")
ITTC_WATER = Source("ITTC Recommended Procedure 7.5-02-01-03 (2011), Fresh Water and Seawater Properties")
KELL_1975 = Source("G. S. Kell, J. Chem. Eng. Data 20 (1975) 97-105, density of liquid water, eq. 16")
EOS_80 = Source("UNESCO Technical Papers in Marine Science 44 (1983), EOS-80 at one atmosphere, eqs. 13 to 15")
ITTC_1957 = Source("ITTC 1957 model-ship correlation line, Proc. 8th ITTC (1957)")
GUM = Source("JCGM 100:2008, Guide to the expression of uncertainty in measurement, 5.1.2 eq. 10 and 6.2.1")
STATICS = Source("Static equilibrium of forces and moments", "mechanics")
WALL_SIDED = Source("Wall-sided formula, GZ = sin(heel) (GM + BM tan2(heel) / 2)", "mechanics")
SMALL_CRAFT = Source("ISO 12217-3 (hulls under 6 m) and US 33 CFR 183 govern small craft that carry people")
KESTIN_1978 = Source("J. Kestin, M. Sokolov, W. A. Wakeham, J. Phys. Chem. Ref. Data 7 (1978) 941-948, viscosity of liquid water, eq. 15")
HOERNER_1965 = Source("S. F. Hoerner, Fluid-Dynamic Drag (1965), ch. III; from memory", "from memory")
IS_2008_WEATHER = Source("IMO Resolution MSC.267(85), International Code on Intact Stability 2008, part A, 2.3")
PNA_MOTIONS = Source("Principles of Naval Architecture, 2nd rev. (1989), vol. III, ch. VIII")
PNA_FORM = Source("Principles of Naval Architecture, 2nd rev. (1988), vol. I, ch. I, coefficients of form")
RANKINE_FROUDE = Source("Momentum theory: W. J. M. Rankine, Trans. INA 6 (1865); R. E. Froude, Trans. INA 30 (1889)", "mechanics")
B_SERIES = Source("Oosterveld, van Oossanen, Int. Shipbuilding Progress 22 (1975) 251-262; coefficients from memory", "from memory")
GLAUERT_1935 = Source("H. Glauert, Airplane Propellers, in Aerodynamic Theory IV (1935), div. L; from memory", "from memory")
ITTC_1978 = Source("ITTC 1978 performance prediction method, scale effect on propellers (Proc. 15th ITTC); from memory", "from memory")
OHM = Source("Ohm's and Kirchhoff's laws, and the permanent-magnet motor's two constants", "mechanics")
IEC_60028 = Source("IEC 60028 (1925): copper at 20 °C, 0.017241 ohm mm²/m, 0.00393 per K; ASTM B258: AWG diameters")
ROUGH_HUMP = Source("Rough: round-bilge series hulls' residuary drag at the hump, as remembered; friction by ITTC 1957", "from memory")
SCHWARZ_1978 = Source("G. Schwarz, Annals of Statistics 6 (1978) 461-464; very strong evidence: Kass, Raftery, JASA 90 (1995) 773, 3.2")
OWN_BENCH = Source("This boat's own thrust test, least squares with JCGM 100:2008 bands", "mechanics")
HOLTROP_1982 = Source("J. Holtrop, G. G. J. Mennen, International Shipbuilding Progress 29 (1982) 166-170; from memory", "from memory")
MICHELL_1898 = Source("J. H. Michell, Philosophical Magazine 45 (1898) 106-123, the wave resistance of a ship")
SAVITSKY_1964 = Source("D. Savitsky, Hydrodynamic design of planing hulls, Marine Technology 1 (1964) 71-95")
JONES_1946 = Source("R. T. Jones, NACA Report 835 (1946), low-aspect-ratio pointed wings; lifting line 2 pi / (1 + 2 / AR) above")
BARNABY_1897 = Source("S. W. Barnaby, Trans. INA 39 (1897): 11 to 13 psi of blade; from memory", "from memory")
HOUGH_MORAN_1969 = Source("G. R. Hough, S. P. Moran, J. Ship Research 13 (1969) 53-60; from memory", "from memory")
PRANDTL_1921 = Source("L. Prandtl, NACA Report 116 (1921); C. Wieselsberger, NACA TM 77 (1922); from memory", "from memory")
MCCORMICK = Source("B. W. McCormick, Aerodynamics, Aeronautics, and Flight Mechanics (1979), ground effect; from memory", "from memory")
GLAUERT_1926 = Source("H. Glauert, The Elements of Aerofoil and Airscrew Theory (1926), ch. VII: thin aerofoils")
CLARKE_1983 = Source("D. Clarke, P. Gedling, G. Hine, Trans. RINA 125 (1983) 45-68, linear manoeuvring; from memory", "from memory")
GEOMETRY = Source("Plane and solid geometry, on the hull's own mesh")
SHIP_RUDDER = Source("E. V. Lewis (ed.), Principles of Naval Architecture III (SNAME, 1989), ch. IX; from memory", "from memory")
LACKENBY_1963 = Source("H. Lackenby, The effect of shallow water on ship speed, The Shipbuilder (1963); from memory", "from memory")
HAZEN_1980 = Source("G. S. Hazen, A model of sail aerodynamics for diverse rig types (SNAME, 1980); from memory", "from memory")
