people-last-lead-stays-one = the last lead stays one: make somebody else a lead first
people-nobody-of-this-key = nobody of this key
people-shop-has-its-first-lead = this shop has its first lead already
