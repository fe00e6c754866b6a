"""Rules of moulds, mixes, yields and weighing, each with formula and source."""
