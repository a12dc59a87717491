-- Work at the wall. A run is a job being painted: the document it goes by, everything told from the wall, every plan made on the way.
begin immediate;

create table runs (
    id integer primary key,
    job_id integer not null references jobs (id) on delete cascade,
    revision integer not null,
    document text not null,
    start text not null,
    begun_at text not null,
    ended_at text
) strict;

create unique index one_run_a_job on runs (job_id) where ended_at is null;

-- Never changed and never deleted; `uid` is the phone's own name for an event, so that it counts once however often it is sent.
create table run_events (
    run_id integer not null references runs (id) on delete cascade,
    number integer not null,
    uid text not null,
    kind text not null,
    task text not null,
    painter integer not null,
    at text not null,
    received_at text not null,
    body text not null check (json_valid(body)),
    primary key (run_id, number),
    unique (run_id, uid)
) strict, without rowid;

create table run_plans (
    run_id integer not null references runs (id) on delete cascade,
    number integer not null,
    made_at text not null,
    events integer not null,
    said text not null,
    plan text not null check (json_valid(plan)),
    primary key (run_id, number)
) strict, without rowid;

-- What falls due, as of the last plan: read on every page.
create table run_timers (
    run_id integer not null references runs (id) on delete cascade,
    kind text not null,
    task text not null,
    at text not null,
    words text not null,
    why text not null
) strict;

create index timers_by_time on run_timers (at);

pragma user_version = 4;
commit;
