"""Symbols as people write them, from the names that stand in formulas."""

from __future__ import annotations

__all__ = ["text_symbol", "typst_symbol"]

GREEK = {
    "alpha": "α",
    "beta": "β",
    "gamma": "γ",
    "delta": "δ",
    "epsilon": "ε",
    "eta": "η",
    "theta": "θ",
    "kappa": "κ",
    "lambda": "λ",
    "chi": "χ",
    "Phi": "Φ",
    "lam": "λ",
    "phi": "φ",
    "psi": "ψ",
    "rho": "ρ",
    "sigma": "σ",
    "omega": "ω",
    "Sigma": "Σ",
    "Delta": "Δ",
    "ell": "ℓ",
}


# Names of products, which stand apart where they are written.
PRODUCTS = {"cot_theta": "cot theta", "phi_V_n": "phi V_n"}


def text_symbol(identifier: str) -> str:
    """Write `f_c_prime` as f'c, `epsilon_ty` as ε_ty, `phi V_n` as φ V_n."""
    identifier = PRODUCTS.get(identifier, identifier)
    if " " in identifier:
        return " ".join(map(text_symbol, identifier.split()))
    base, prime, subscript = _symbol_parts(identifier)
    return f"{base}{prime}_{subscript}" if subscript else base + prime


def typst_symbol(identifier: str) -> str:
    """Write `f_c_prime` as Typst mathematics."""
    identifier = PRODUCTS.get(identifier, identifier)
    if " " in identifier:
        return " ".join(map(typst_symbol, identifier.split()))
    letter, prime, subscript = _symbol_parts(identifier)
    base = letter if len(letter) == 1 else f'"{letter}"'
    return f'{base}{prime}_"{subscript}"' if subscript else f"{base}{prime}"


def _symbol_parts(identifier: str) -> tuple[str, str, str]:
    """Split an identifier into its letter, a prime and its subscript."""
    head, *tail = identifier.split("_")
    summed = "Σ" if "sum" in tail else ""
    prime = "'" if "prime" in tail else ""
    subscript = ",".join(GREEK.get(part, part) for part in tail if part not in ("prime", "sum"))
    return summed + GREEK.get(head, head), prime, subscript
