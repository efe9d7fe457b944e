"""How it tips: righting arms with sinkage and trim free."""
