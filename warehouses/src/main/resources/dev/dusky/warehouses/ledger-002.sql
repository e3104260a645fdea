alter table dusky.reject add column place varchar(400);

drop view dusky.reject_detail;

create view dusky.reject_detail as
select r.reject_id, f.feed, f.path, r.load_id, r.file_id, f.state as file_state, r.record_number,
       r.line_number, r.byte_offset, r.place, r.state, p.problem, p.code, p.column_name, p.raw_value,
       p.message, r.raw_record, r.raw_cut, r.recorded_at
from dusky.reject r
join dusky.file f on f.file_id = r.file_id
join dusky.reject_problem p on p.reject_id = r.reject_id;
