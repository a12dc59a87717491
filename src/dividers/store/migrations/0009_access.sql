-- Who may come in from elsewhere: the passphrase, phones by their links, and the tries at both.
begin immediate;

create table passphrase (
    id integer primary key check (id = 1),
    hash text not null,
    epoch text not null,
    set_at text not null
) strict;

create table phones (
    id integer primary key,
    job_id integer not null references jobs (id) on delete cascade,
    name text not null,
    token_hash text not null unique,
    made_at text not null,
    ends_at text not null,
    revoked_at text,
    seen_at text
) strict;

create table access_tries (
    id integer primary key,
    at text not null,
    address text not null,
    what text not null check (what in ('passphrase', 'link', 'device')),
    passed integer not null check (passed in (0, 1))
) strict;

create index access_tries_by_time on access_tries (what, passed, at);

pragma user_version = 9;
commit;
