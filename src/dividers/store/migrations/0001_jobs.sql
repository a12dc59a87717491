-- Jobs, and every state each was ever in. A job's head is the revision in force; undo and redo move it along parents.
begin immediate;

create table jobs (
    id integer primary key,
    head integer not null,
    created_at text not null,
    changed_at text not null,
    deleted_at text
) strict;

create table revisions (
    job_id integer not null references jobs (id) on delete cascade,
    number integer not null,
    parent integer,
    title text not null,
    document text not null,
    label text not null,
    made_at text not null,
    primary key (job_id, number),
    foreign key (job_id, parent) references revisions (job_id, number)
) strict, without rowid;

-- What a stale page tried to save: kept until someone says which version counts.
create table refused (
    id integer primary key,
    job_id integer not null references jobs (id) on delete cascade,
    base integer not null,
    document text not null,
    label text not null,
    made_at text not null,
    settled_at text
) strict;

-- What was typed and can't be taken yet, so that leaving the page doesn't lose it.
create table drafts (
    job_id integer not null references jobs (id) on delete cascade,
    piece text not null,
    station text not null,
    typed text not null,
    primary key (job_id, piece, station)
) strict, without rowid;

pragma user_version = 1;
commit;
