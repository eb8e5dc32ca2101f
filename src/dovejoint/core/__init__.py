"""The rules of the job and all computation. Knows no web server, no SQL, no thread, no clock."""
