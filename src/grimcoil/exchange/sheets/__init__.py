"""A sheet that an electrician has kept so far: any columns, CSV or XLSX, read by a map that says what each holds."""
