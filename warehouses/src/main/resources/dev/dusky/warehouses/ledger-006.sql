${livePosting}

alter table dusky.tally add column seal varchar(64);

alter table dusky.merge_run add column seal varchar(64);

alter table dusky.reject add column problem_count smallint;

drop index dusky.afterwards_target;
