-- Up Migration
-- The core counts in UTC milliseconds.
create function ms(at timestamptz) returns bigint language sql immutable strict as $$
  select round(extract(epoch from at) * 1000)::bigint
$$;
create function at_ms(ms double precision) returns timestamptz language sql immutable strict as $$
  select to_timestamp(ms / 1000.0)
$$;
