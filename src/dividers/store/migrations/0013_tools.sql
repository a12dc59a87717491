-- The tools for carrying lines that there are, or are not; no row for one that nobody was asked about.
begin immediate;
create table tools (
    name text primary key,
    there integer not null check (there in (0, 1))
) strict;
pragma user_version = 13;
commit;
