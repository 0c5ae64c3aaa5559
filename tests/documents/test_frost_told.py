"""What the customer reads of the cold is what holds in this vehicle."""

from __future__ import annotations

import pytest

from olvask.core.assess import assess
from olvask.documents.customer import CustomerHead, customer_pdf
from tests.designs import design
from tests.papers import leaves

HEAD = CustomerHead("Peat-survey pickup", "PS-064", "Hollin Moss", "2031-05-01", "3")
PACK = {"chemistry": "lfp", "capacity_ah": 110.0, "charge_min_c": 2.0}


@pytest.mark.parametrize(
    ("cut_off", "told"),
    [(True, "Under 2 °C this battery takes no charge"), (False, "Never let it be charged under 2 °C")],
)
def test_the_customers_page(cut_off: bool, told: str) -> None:
    """A pack that cuts off by itself takes no charge; one that nothing stops must not be given any."""
    made = design(auxiliary=PACK | {"low_temperature_cut_off": cut_off})
    text = " ".join(leaf.words for leaf in leaves(customer_pdf(HEAD, made, assess(made, remedies=False))))
    assert told in text
