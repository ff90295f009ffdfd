"""After the work: own figures and their marking, the class as a table, reports, signatures, search, terms."""
