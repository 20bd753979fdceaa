"""Reading a film by a general-purpose pose network: who is where, joint by joint, how often."""
