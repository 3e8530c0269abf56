# The trade's words and their spelling, in the United States. Messages use them as terms.

-centre = { $case ->
    [upper] Center
   *[lower] center
  }
-intake = { $case ->
    [upper] Intake
   *[lower] intake
  }
-aluminium = aluminum
-grey = gray
-metre = meter
-sump = oil pan
-lash = valve lash
-utilisation = utilization
