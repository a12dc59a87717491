-- What the workshop keeps: paints, tapes, seals and colours, each as a job file would have it.
begin immediate;

create table cupboard (
    id integer primary key,
    kind text not null check (kind in ('paint', 'tape', 'seal', 'colour')),
    name text not null check (length(name) between 1 and 120),
    body text not null check (json_valid(body)),
    starter integer not null default 0,
    retired_at text,
    changed_at text not null,
    unique (kind, name)
) strict;

create table cupboard_filled (
    at text not null
) strict;

pragma user_version = 3;
commit;
