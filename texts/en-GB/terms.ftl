# The trade's words and their spelling, in the United Kingdom. Messages use them as terms.

-centre = { $case ->
    [upper] Centre
   *[lower] centre
  }
-intake = { $case ->
    [upper] Inlet
   *[lower] inlet
  }
-aluminium = aluminium
-grey = grey
-metre = metre
-sump = sump
-lash = valve clearance
-utilisation = utilisation
