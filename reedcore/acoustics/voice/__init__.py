"""The voice itself: level, steadiness, tremor, cepstral peak prominence; and the recording."""
