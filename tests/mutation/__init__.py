"""Whether a changed sign, factor or limit is noticed: mutations of the core, each tried by the tests that reach it."""
