${livePosting}

alter table dusky.tally add column seal varchar(64);

alter table dusky.merge_run add column seal varchar(64);

alter table dusky.reject add column problem_count smallint;

drop index dusky.afterwards_target;

drop constraints of dusky.merge_reject;

alter table dusky.merge_reject add primary key (reject_id);

alter table dusky.merge_reject add constraint merge_reject_run
  foreign key (merge_id) references dusky.merge_run;

alter table dusky.merge_reject add constraint merge_reject_retry
  foreign key (retried_by) references dusky.merge_run;

alter table dusky.merge_reject add constraint merge_reject_state
  check (state in ('open', 'retried', 'reversed'));

update dusky.merge_reject r set state = 'reversed'
where r.state = 'open' and exists (select 1 from dusky.tally t
  where t.load_id = r.load_id and t.file_id = r.file_id and t.reversed_by is not null);
