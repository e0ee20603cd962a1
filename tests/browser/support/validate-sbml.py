# Checks SBML files with the standard's own library and prints what it calls errors, a line each. Usage: validate-sbml.py FILE...
import sys

import libsbml

for path in sys.argv[1:]:
    document = libsbml.readSBML(path)
    document.checkConsistency()
    for k in range(document.getNumErrors()):
        error = document.getError(k)
        if error.getSeverity() >= libsbml.LIBSBML_SEV_ERROR:
            print(f"{path}:{error.getLine()}: {error.getErrorId()} {' '.join(error.getMessage().split())}")
