-- The logbook: what was found when the tape was off, what is to be touched up, who looked at it, what was used; test patches; practice.
begin immediate;

create table photos (
    id integer primary key,
    job_id integer references jobs (id) on delete cascade,
    file text not null unique,
    width integer not null,
    height integer not null,
    caption text not null default '',
    added_at text not null,
    removed_at text
) strict;

-- A round, or one strip of it, as it was found. What the edge depended on is written down with it: plans change.
create table findings (
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
    check (clean + slight + bleed > 0)
) strict;

create index findings_by_job on findings (job_id, piece, round);

create table touch_ups (
    id integer primary key,
    job_id integer not null references jobs (id) on delete cascade,
    piece text not null,
    piece_name text not null,
    what text not null,
    place text not null default '',
    x_mm real,
    y_mm real,
    colour text not null default '',
    tool text not null default '',
    added_at text not null,
    done_at text,
    minutes real
) strict;

create table sign_offs (
    job_id integer not null references jobs (id) on delete cascade,
    piece text not null,
    piece_name text not null,
    name text not null,
    words text not null default '',
    signed_at text not null,
    primary key (job_id, piece)
) strict, without rowid;

-- What went into a job: tin and batch, mix, roll; what it cost where that is known.
create table used (
    id integer primary key,
    job_id integer not null references jobs (id) on delete cascade,
    item text not null,
    batch text not null default '',
    amount text not null default '',
    price text not null default '',
    currency text not null default '',
    added_at text not null
) strict;

create table measured_tapes (
    id integer primary key,
    job_id integer not null references jobs (id) on delete cascade,
    tape text not null,
    strips integer not null,
    length text not null,
    mm text not null,
    added_at text not null
) strict;

create table settled_proposals (
    job_id integer not null references jobs (id) on delete cascade,
    proposal text not null,
    taken integer not null,
    settled_at text not null,
    primary key (job_id, proposal)
) strict, without rowid;

create table patches (
    id integer primary key,
    title text not null,
    place text not null,
    texture text not null,
    made_at text not null,
    retired_at text
) strict;

create table patch_cells (
    patch_id integer not null references patches (id) on delete cascade,
    number integer not null,
    tape text not null,
    adhesion text not null,
    swelling_edge integer not null,
    seal text not null,
    paint text not null,
    wait_min integer not null,
    painted_at text,
    pulled_at text,
    edge text check (edge in ('clean', 'slight', 'bleed')),
    lift text,
    note text not null default '',
    primary key (patch_id, number)
) strict, without rowid;

create table practice_answers (
    id integer primary key,
    kind text not null,
    seed integer not null,
    answer text not null,
    right integer not null,
    answered_at text not null
) strict;

pragma user_version = 5;
commit;
