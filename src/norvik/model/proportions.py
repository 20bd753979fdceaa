"""Lengths of the body's segments as shares of its height.

Source: Drillis and Contini 1966, in Winter, Biomechanics and Motor Control of Human Movement
(recalled from memory, not looked up). There the breadth of the hips is 0.191: their joints lie
inside it by the thickness of a thigh. Trunk, neck and head are chosen so that all adds up.
"""

UPPER_ARM = 0.186
FOREARM = 0.146
HAND = 0.108
THIGH = 0.245
SHANK = 0.246
FOOT = 0.152
SHOULDER_HALF_WIDTH = 0.129
HIP_HALF_WIDTH = 0.05
TRUNK = 0.288
NECK_TO_CROWN = 0.182
