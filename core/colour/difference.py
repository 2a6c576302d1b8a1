"""How different do two colours look?"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import Floats


def ciede2000(lab_1: ArrayLike, lab_2: ArrayLike, k_l: float = 1.0) -> Floats:
    """CIEDE2000 colour difference of CIELAB arrays (…, 3), broadcast against each other.

    k_l weighs lightness: 1 for reporting, 0.5 where value must be right before hue.
    Source: Sharma, Wu, Dalal 2005, Color Research & Application 30(1).
    """
    first, second = np.asarray(lab_1), np.asarray(lab_2)
    l_1, a_1, b_1 = first[..., 0], first[..., 1], first[..., 2]
    l_2, a_2, b_2 = second[..., 0], second[..., 1], second[..., 2]

    c_bar = (np.hypot(a_1, b_1) + np.hypot(a_2, b_2)) / 2
    g = 0.5 * (1 - np.sqrt(c_bar**7 / (c_bar**7 + 25.0**7)))
    a_1p, a_2p = (1 + g) * a_1, (1 + g) * a_2
    c_1p, c_2p = np.hypot(a_1p, b_1), np.hypot(a_2p, b_2)
    h_1p = np.degrees(np.arctan2(b_1, a_1p)) % 360
    h_2p = np.degrees(np.arctan2(b_2, a_2p)) % 360

    grey = c_1p * c_2p == 0
    dh = h_2p - h_1p
    dh = np.where(dh > 180, dh - 360, np.where(dh < -180, dh + 360, dh))
    dh = np.where(grey, 0.0, dh)
    dl_p, dc_p = l_2 - l_1, c_2p - c_1p
    dh_p = 2 * np.sqrt(c_1p * c_2p) * np.sin(np.radians(dh / 2))

    l_bar, cp_bar = (l_1 + l_2) / 2, (c_1p + c_2p) / 2
    h_sum = h_1p + h_2p
    far = np.abs(h_1p - h_2p) > 180
    h_bar = np.where(far, np.where(h_sum < 360, h_sum + 360, h_sum - 360), h_sum) / 2
    h_bar = np.where(grey, h_sum, h_bar)

    t = (
        1
        - 0.17 * np.cos(np.radians(h_bar - 30))
        + 0.24 * np.cos(np.radians(2 * h_bar))
        + 0.32 * np.cos(np.radians(3 * h_bar + 6))
        - 0.20 * np.cos(np.radians(4 * h_bar - 63))
    )
    s_l = 1 + 0.015 * (l_bar - 50) ** 2 / np.sqrt(20 + (l_bar - 50) ** 2)
    s_c = 1 + 0.045 * cp_bar
    s_h = 1 + 0.015 * cp_bar * t
    d_theta = 30 * np.exp(-(((h_bar - 275) / 25) ** 2))
    r_t = -np.sin(np.radians(2 * d_theta)) * 2 * np.sqrt(cp_bar**7 / (cp_bar**7 + 25.0**7))

    lightness, chroma, hue = dl_p / (k_l * s_l), dc_p / s_c, dh_p / s_h
    return np.asarray(np.sqrt(np.maximum(lightness**2 + chroma**2 + hue**2 + r_t * chroma * hue, 0.0)))
