-- The wood of a proof is kept, and shown, before the rules have judged it: so it no longer waits for its proof's row.

alter table proof_view drop constraint proof_view_hash_fkey;
