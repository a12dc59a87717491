-- Devices' readings as they arrive, the token they are let in by; and photos of places with the corners of a panel on them.
begin immediate;

create table device_readings (
    id integer primary key,
    device text not null check (device in ('range-finder', 'hygrometer', 'laser')),
    kind text not null check (kind in ('length', 'air', 'offset')),
    first real not null,
    second real,
    at text not null,
    taken_at text
) strict;

create index readings_by_kind on device_readings (kind, id);

create table device_token (
    only integer primary key check (only = 1),
    token text not null,
    made_at text not null
) strict;

create table previews (
    job_id integer not null references jobs (id) on delete cascade,
    piece text not null,
    photo_id integer not null references photos (id),
    corners text not null check (json_valid(corners)),
    primary key (job_id, piece)
) strict, without rowid;

pragma user_version = 6;
commit;
