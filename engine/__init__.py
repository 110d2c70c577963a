"""The forecast engine: colour, hair, dye and bowl. It imports no Django, clock or environment."""
