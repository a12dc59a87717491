-- What a job is offered for: the client, rate, margin and words that were typed.
begin immediate;
create table quotes (
    job_id integer primary key references jobs (id) on delete cascade,
    terms text not null check (json_valid(terms)),
    made_at text not null
) strict;
pragma user_version = 15;
commit;
