papers-all-operations-are-finished-the-build = All operations are finished. The build sheet has them.
papers-all-parts-and-sets = All { $count } parts and sets
papers-done-by = Done, by
papers-each-has-a-qr-code-that = Each has a QR code that opens its page here. Three in a row, 24 on a sheet.
papers-fasteners = { $count ->
    [one] 1 fastener
   *[other] { $count } fasteners
  }
papers-font-9pt-barlow-sans-serif = font: 9pt 'Barlow', sans-serif
papers-how-many-up-to-60 = How many, up to 60
papers-include-finished-operations = Include finished operations
papers-labels = Labels, { $engine }
papers-left = Left
papers-lubricant = Lubricant: { $lubricants }
papers-lubricants = Lubricants
papers-no-parts = No parts
papers-not-done-yet = not done yet
papers-operation = Operation
papers-parts-list = Parts list, { $engine }
papers-parts-to-log-in = Parts to log in
papers-print-labels = Print { $count } { $count ->
    [one] label
   *[other] labels
 }
papers-qr-code = QR code
papers-qr-code-that-opens-this-page = QR code that opens this page
papers-steps-in-operations = { $steps } steps in { $operations } operations
papers-take-apart-in-reverse-order = { $joint }: take apart, in reverse order
papers-the-engine = The engine
papers-the-plan-lists-no-parts = The plan lists no parts.
papers-tray = Tray
papers-trays = Trays
papers-waits-for = Waits for
papers-what-is-on-it = What is on it
papers-what-to-print-a-label-for = What to print a label for
papers-work-order = Work order, { $engine }
