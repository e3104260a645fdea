alter table dusky.load drop constraint load_kinds;

alter table dusky.load add constraint load_kinds
  check (kind in ('load', 'mend', 'reverse', 'replace', 'restore', 'promote', 'tidy'));
