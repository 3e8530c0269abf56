//! Places of things in a plan, resolved once from their keys.
//!
//! A place is only valid in the plan that gave it.

/// Declares one kind of place.
macro_rules! index {
    ($(#[$about:meta])* $name:ident) => {
        $(#[$about])*
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
        pub struct $name(pub usize);
    };
}

index! {
    /// A specification of fasteners.
    SpecIx
}
index! {
    /// A joint.
    JointIx
}
index! {
    /// A group of a joint.
    GroupIx
}
index! {
    /// A stage of a joint.
    StageIx
}
index! {
    /// A fastener of a joint, over all its groups.
    FastenerIx
}
index! {
    /// A slot for a part.
    SlotIx
}
index! {
    /// A family of sites.
    FamilyIx
}
index! {
    /// A site.
    SiteIx
}
index! {
    /// A clearance.
    ClearanceIx
}
index! {
    /// An operation, by its place in the line of work.
    OperationIx
}
