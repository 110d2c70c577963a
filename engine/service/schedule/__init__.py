"""The plan of a visit in coats: who is where with which hands, and when the head goes to the basin."""
