# How messages are put together, whatever they are about.

message-and-more = { $said } (and { $more } more)
message-both = { $first } and { $second }
message-of = { $of }: { $words }
message-quoted = `{ $words }`
message-with-after = { $words } { $after }
