"""The people of the club: accounts, squads, and the trail of what was done."""
