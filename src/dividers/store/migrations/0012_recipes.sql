-- Looks that are kept, to be laid on other surfaces.
begin immediate;
create table recipes (
    id integer primary key,
    name text not null check (length(name) between 1 and 120),
    body text not null check (json_valid(body)),
    made_at text not null,
    retired_at text
) strict;
pragma user_version = 12;
commit;
