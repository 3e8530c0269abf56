-- What each click wrench is set to: the last that any engine's record says. It can be made again from them.
CREATE TABLE wrench_settings (
    instrument text PRIMARY KEY,
    torque_nm  double precision NOT NULL,
    set_at     timestamptz NOT NULL
);
