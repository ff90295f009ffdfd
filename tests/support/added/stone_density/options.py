"""What a run of it may choose."""

from pydantic import Field

from claykettle.core.method import FIRST, MethodOptions


class StoneOptions(MethodOptions):
    """Options of the method `stone_density`, as in the run file."""

    stone: str = Field(default="", title="Stone", description="What it is called.", json_schema_extra=FIRST)
