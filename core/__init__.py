"""The computation: values in, values out. No web framework, database, network or clock."""
