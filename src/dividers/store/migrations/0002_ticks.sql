-- Marks that were made at the wall and ticked off. A mark is told by its panel, its line and what it reads.
begin immediate;

create table mark_ticks (
    job_id integer not null references jobs (id) on delete cascade,
    piece text not null,
    mark text not null,
    ticked_at text not null,
    primary key (job_id, piece, mark)
) strict, without rowid;

pragma user_version = 2;
commit;
