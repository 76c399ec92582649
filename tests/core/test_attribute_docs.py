"""What a class says about its attributes becomes what a client reads about the fields."""

from pydantic import BaseModel

from keen_sweep.core.attribute_docs import describe_fields


class Square(BaseModel):
    """A square.

    Its sides are whole numbers.

    Attributes
    ----------
    side : int
        Length of a side,
        pixels.
    name : str or None
        Its name.
    """

    side: int
    name: str | None = None


def test_attributes_become_descriptions_of_fields() -> None:
    document = {"components": {"schemas": {"Square": Square.model_json_schema()}}}
    describe_fields(document)
    schema = document["components"]["schemas"]["Square"]
    assert schema["description"] == "A square.\n\nIts sides are whole numbers."
    assert schema["properties"]["side"]["description"] == "Length of a side, pixels."
    assert schema["properties"]["name"]["description"] == "Its name."


def test_a_schema_without_attributes_stays_as_it_is() -> None:
    document = {"components": {"schemas": {"Plain": {"type": "string", "description": "A word."}}}}
    describe_fields(document)
    assert document == {"components": {"schemas": {"Plain": {"type": "string", "description": "A word."}}}}
