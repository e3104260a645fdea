create table dusky.null_count (
  load_id bigint not null,
  file_id bigint not null,
  column_name varchar(200) not null,
  null_rows bigint not null,
  primary key (load_id, file_id, column_name),
  foreign key (load_id, file_id) references dusky.tally
);
