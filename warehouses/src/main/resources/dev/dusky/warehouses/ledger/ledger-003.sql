create index load_feed on dusky.load (feed);
