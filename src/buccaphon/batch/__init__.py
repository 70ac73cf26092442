"""Many lines at once: a manifest in, every line's files and a report out; resumable, on one machine or a cluster."""
