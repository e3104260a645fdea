drop index dusky.merge_reject_name;

create index merge_reject_row on dusky.merge_reject
  (merge_name, state, load_id, file_id, record_number);
