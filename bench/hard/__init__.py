"""Hard recordings, made from scripts, half of them never looked at while the measuring was tuned.

Their voices share nothing with the product's own simulated voice: another glottal source, speech
synthesisers and a sampler from Debian's archive. `make bench-hard` makes, measures and judges
them; `--half tuning` or `--half held-out` keeps to one half.
"""
