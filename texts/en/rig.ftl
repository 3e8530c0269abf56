rig-an-m9-1-0-bolt-with = An M9×1.0 bolt with unknown friction, from half to nearly twice the typical value. Its free length is { $free_mm }
rig-and-new-ones-have-it-was = , and new ones have { $new_mm }: it was used before
rig-angle-accuracy = Angle accuracy, ±
rig-as-few-pulls-as-possible-never = As few pulls as possible, never past { $utilisation } % of yield. The first pull shows its friction; the next one is arithmetic.
rig-assumptions = Assumptions
rig-bolts-here-points-each = { $count } { $count ->
    [one] bolt
   *[other] bolts
 } here, { $mean } points each.
rig-clear-results = Clear results
rig-enter-a-torque-such-as-30 = Enter a torque such as 30
rig-friction = Friction:
rig-friction-scatter = Friction scatter, ±
rig-gauge-accuracy = Gauge accuracy, ±
rig-gave = { $moves } gave { $read }
rig-hide-scatter-by-the-standard = Hide scatter by the standard
rig-hide-the-advised-step = Hide the advised step
rig-k-to-typically = K { $least } to { $most }, typically { $typical }
rig-less-than-before-the-bolt-would = Less than before: the bolt would not turn. Loosen first, or pull further
rig-loose-remaining = Loose: { $read } remaining
rig-loosen = Loosen
rig-max-over-min-clamp-load-vdi = Max over min clamp load, VDI 2230-1 table A8
rig-measured-on-bolts = Measured on { $measured } bolts
rig-next-bolt = Next bolt
rig-nothing-is-recorded-on-an-engine = . Nothing is recorded on an engine.
rig-of-100-points = of 100 points
rig-over-limit = Over limit
rig-over-loosen-it = Over: loosen it
rig-permanent-stretch = ; permanent stretch { $set_mm }
rig-plan-values = Plan values
rig-practice-tighten-to-stretch = Practice: tighten to stretch
rig-pull-to-then-enter = Pull to, { $unit }, then Enter
rig-pulls = Pulls
rig-pulls-the-advised-steps-take-for = { $pulls } { $pulls ->
    [one] pull
   *[other] pulls
 }; the advised steps take { $advised } for this bolt. Its friction was μ { $mu }, and { $used } % of its yield was used
rig-scatter-by-the-standard = Scatter by the standard
rig-show-the-advised-step = Show the advised step
rig-target-stretch = Target stretch
rig-the-same-bolt-tightened-to-the = The same bolt tightened to the same load in three ways. The line is computed, the bars are { $count } simulated bolts; 95 of 100 lie on the thick part.
rig-this-bolt = this bolt
rig-typical-friction = Typical friction, μ
rig-under-target-pull-further = Under target: pull further
rig-wrench-accuracy = Wrench accuracy, ±
