tools-one-bolt-tightened-by-torque-angle = One bolt tightened by torque, angle and stretch: how far the load scatters
tools-threads-torque-stretch-clearances-and-more = Threads, torque, stretch, clearances and more, with formula and source
tools-tighten-a-bolt-of-unknown-friction = Tighten a bolt of unknown friction to its stretch
tools-what-your-own-bolts-have-shown = What your own bolts have shown, lubricants of the shop, friction tests
