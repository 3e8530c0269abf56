-- What every engine says for the day, beside its list row and rebuildable with it.
CREATE TABLE outlooks (
    build_id uuid PRIMARY KEY,
    body     jsonb NOT NULL
);

-- How long operations took that are signed, minutes.
CREATE TABLE times (
    build_id  uuid             NOT NULL,
    operation text             NOT NULL,
    plan      text             NOT NULL,
    step      text             NOT NULL,
    minutes   double precision NOT NULL,
    at        timestamptz      NOT NULL,
    PRIMARY KEY (build_id, operation)
);
CREATE INDEX times_by_step ON times (plan, step, at);

-- What that comes to for every step of a plan.
CREATE TABLE usual_times (
    plan    text             NOT NULL,
    step    text             NOT NULL,
    records integer          NOT NULL,
    low     double precision NOT NULL,
    median  double precision NOT NULL,
    high    double precision NOT NULL,
    PRIMARY KEY (plan, step)
);

-- When the shop works, and the secret of its calendar's address.
CREATE TABLE working_hours (
    one      boolean PRIMARY KEY DEFAULT true CHECK (one),
    calendar jsonb NOT NULL
);
CREATE TABLE feeds (
    token   text PRIMARY KEY,
    by_name text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);

-- Engines that came in from another shop, with how many entries: what was done there says nothing of the wrenches,
-- the friction and the times of this one.
CREATE TABLE came_in (
    build_id uuid PRIMARY KEY,
    entries  bigint      NOT NULL,
    by_name  text        NOT NULL,
    at       timestamptz NOT NULL DEFAULT now()
);
