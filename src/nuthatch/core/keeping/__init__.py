"""Nothing lost: locks, autosave, versions, files held for homes not saved yet."""
