"""One service, one verb of the job."""
