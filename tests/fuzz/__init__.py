"""Every reader fed with damaged input: a message each time, never a crash, never a hang."""
