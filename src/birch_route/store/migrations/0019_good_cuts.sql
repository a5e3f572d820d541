-- Cuts that went well, counted by wood without reading what each was.

create index trial_good on trial (wood) where origin = 'own' and data->>'outcome' = 'fine';
