-- Up Migration
-- Making a partition locks the table that visitors' pages are written to. Where somebody holds it for long, whoever writes must not queue up
-- behind this: it is given up and tried again later.
alter function add_partitions(date) set lock_timeout = '5s';
