create table dusky.lake_table (
  table_schema varchar(200) not null,
  table_name varchar(200) not null,
  primary key (table_schema, table_name)
);

create table dusky.intent (
  token varchar(40) not null primary key,
  table_schema varchar(200) not null,
  table_name varchar(200) not null,
  made_at timestamp with time zone not null
);

create index intent_table on dusky.intent (table_schema, table_name);

create table dusky.intent_state (
  token varchar(40) not null primary key,
  base_state bigint not null,
  given_up boolean not null
);
