-- One strip may wait for the measurement of its photo: until then it is counted as nothing.
begin immediate;

create table findings_as_found (
    id integer primary key,
    job_id integer not null references jobs (id) on delete cascade,
    piece text not null,
    piece_name text not null,
    round integer not null,
    strip text not null default '',
    clean integer not null,
    slight integer not null,
    bleed integer not null,
    lift text,
    bridge text not null default 'none' check (bridge in ('none', 'some', 'torn')),
    x_mm real,
    y_mm real,
    repair text not null default '',
    minutes real,
    note text not null default '',
    texture text not null,
    adhesion text not null,
    swelling_edge integer not null,
    seal text not null,
    pull text not null,
    tape text not null,
    paint text not null,
    photo_id integer references photos (id),
    found_at text not null,
    removed_at text,
    bridge_looked integer not null default 0 check (bridge_looked in (0, 1)),
    check (clean + slight + bleed > 0 or (clean + slight + bleed = 0 and strip <> ''))
) strict;

insert into findings_as_found (
    id, job_id, piece, piece_name, round, strip, clean, slight, bleed, lift, bridge, x_mm, y_mm, repair, minutes, note, texture,
    adhesion, swelling_edge, seal, pull, tape, paint, photo_id, found_at, removed_at, bridge_looked
)
select
    id, job_id, piece, piece_name, round, strip, clean, slight, bleed, lift, bridge, x_mm, y_mm, repair, minutes, note, texture,
    adhesion, swelling_edge, seal, pull, tape, paint, photo_id, found_at, removed_at, bridge_looked
from findings;

drop table findings;
alter table findings_as_found rename to findings;
create index findings_by_job on findings (job_id, piece, round);

pragma user_version = 17;
commit;
