-- The steps of a run as it was begun with: later versions may plan the same job otherwise.
begin immediate;

create table run_steps (
    run_id integer primary key references runs (id) on delete cascade,
    made_with text not null,
    work text not null check (json_valid(work)),
    pages blob not null
) strict;

pragma user_version = 18;
commit;
