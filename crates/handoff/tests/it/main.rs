//! What is handed over, held against its own promises, outside readers of the same formats, and a
//! shell that carries it out.

mod coded_files;
mod convert_script;
mod formats;
mod hostile;
mod packages;
mod read_back;
mod schemas;
