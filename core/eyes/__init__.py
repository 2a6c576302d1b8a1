"""Finding faces and what lies where on them, by trained models; knows nothing of colour or of what is asked about."""
