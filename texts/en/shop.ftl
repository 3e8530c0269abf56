shop-add-engine = Add engine
shop-all = All
shop-away = : away, { $place }{ $until }
shop-back = , back { $until }
shop-blocked-first = Blocked first
shop-build-sheet-ready = Build sheet ready
shop-convert-torques = convert torques
shop-done = , done
shop-each-with-a-name-and-password = each with a name and password, and a PIN for the bench
shop-engine-number = Engine number
shop-engine-plan = Engine plan
shop-engines-are-being-updated-for-the = { $renewing } { $renewing ->
    [one] engine is
   *[other] engines are
 } being updated for the new version. Work can continue.
shop-filter = Filter
shop-finished = Finished
shop-from-a-layout-a-file-or = from a layout, a file, or an example
shop-getting-started = Getting started
shop-in-the-shop = In the shop
shop-last-worked-on = Last worked on
shop-more-engines = More engines
shop-more-specs-missing = { $count ->
    [one] 1 more spec missing
   *[other] { $count } more specs missing
  }
shop-name = Name
shop-name-customer-number-serial = name, customer, number, serial
shop-new-engine = New engine
shop-no-engines-match = No engines match “{ $find }”.
shop-no-engines-match-2 = No engines match.
shop-no-engines-yet-add-one-it = No engines yet. Add one: it needs a name and an engine plan.
shop-of-signed = { $words }, { $signed } of { $operations } signed
shop-operation-in-hand = Operation in hand
shop-operations = { $p }, { $operations } operations
shop-record-damaged-nothing-can-be-recorded = ▲ Record damaged: nothing can be recorded
shop-shop-default = shop default
shop-sort-by = Sort by
shop-specs-missing = { $count ->
    [one] 1 spec missing
   *[other] { $count } specs missing
  }
shop-tarn-5-no-15 = Tarn 5 no. 15
shop-then-add-an-engine = Then add an engine.
shop-to-do = , to do
shop-with-range-accuracy-and-calibration-date = with range, accuracy and calibration date
shop-wrenches-and-gauges = Wrenches and gauges
