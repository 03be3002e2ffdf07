//! The command line.

use std::fs::File;
use std::io;
use std::net::{IpAddr, SocketAddr};
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::builder::PossibleValuesParser;
use clap::{Args, CommandFactory, Parser, Subcommand, ValueEnum};
use ratiomet_core::resampling::{Filter, Resampling, Transfer};
use ratiomet_exchange::ask;
use ratiomet_exchange::library_file::LibraryDocument;
use ratiomet_exchange::project_file::ProjectDocument;
use ratiomet_handoff::{Manifest, Numbers};
use ratiomet_media::Stereo;
use ratiomet_media::tag::Tag;
use ratiomet_wire::schema;

use crate::borders;
use crate::calc_lines::{self, Outcome};
use crate::demo;
use crate::handoff;
use crate::import;
use crate::keeping::{self, Copies};
use crate::people;
use crate::probe;
use crate::render;
use crate::server::{self, Public, Reached};
use crate::serving::{Beside, serve};
use crate::stills::Stills;
use crate::tag;
use crate::version::VERSION;

/// Plans frame geometry conversions: how footage of any shape lands in the frames to deliver.
#[derive(Debug, Parser)]
#[command(name = "ratiomet", version = VERSION)]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

#[derive(Debug, Subcommand)]
enum Command {
    /// Serve the application and its API
    Serve {
        #[command(flatten)]
        address: Address,
        /// The data file; it is made if it does not exist
        #[arg(long, value_name = "FILE", default_value = "ratiomet.db")]
        data: PathBuf,
        /// A folder of footage that may be looked into from the application, and nowhere else
        #[arg(long, value_name = "DIR")]
        media: Option<PathBuf>,
        /// How many daily copies of the data file are kept, in FILE.copies beside it; 0 for none
        #[arg(long, value_name = "NUMBER", default_value = "7", value_parser = clap::value_parser!(u16).range(0..=1000))]
        copies: u16,
    },
    /// Serve the demo project "The Kiln at Saltreed"; a second start keeps what you changed
    Demo {
        #[command(flatten)]
        address: Address,
        /// The data file of the demo; other projects in it are left alone
        #[arg(long, value_name = "FILE", default_value = "ratiomet-demo.db")]
        data: PathBuf,
        /// A folder of footage that may be looked into from the application, and nowhere else
        #[arg(long, value_name = "DIR")]
        media: Option<PathBuf>,
        /// Begin the demo project again, without your changes to it
        #[arg(long)]
        fresh: bool,
    },
    /// Answer calculations: JSON Lines in, one result a line out, in the same order
    ///
    /// A bad line gives {"error": ...} in its place. Blank lines are skipped. The exit status is 1
    /// if any line was bad, 2 if reading or writing failed, else 0.
    Calc {
        /// Read from this file instead of standard input
        file: Option<PathBuf>,
    },
    /// Answer one question in plain words: "2.39 from UHD", "1.8x on 3840x2160 into 2.39", "60 at 24"
    ///
    /// The exit status is 1 if it is not understood.
    Ask {
        /// The question; several words need no quotation marks
        #[arg(required = true)]
        question: Vec<String>,
        /// Give request, result and sentence as JSON
        #[arg(long)]
        json: bool,
    },
    /// Tell what the headers of files say of their pictures, and where it stands
    ///
    /// Numbered stills of one name are one clip. The exit status is 1 if any file was not read.
    Probe {
        /// The files
        #[arg(required = true, value_name = "FILE")]
        files: Vec<PathBuf>,
        /// Give a JSON object a line for each clip
        #[arg(long)]
        json: bool,
    },
    /// Say who may use a server that others can reach
    #[command(subcommand)]
    People(people::Command),
    /// Copy a data file with its stills, while a server works on it or not
    ///
    /// While a server runs, copying the file itself is not enough: its newest changes lie beside it.
    Backup {
        /// The data file
        #[arg(long, value_name = "FILE", default_value = "ratiomet.db")]
        data: PathBuf,
        /// The copy, which must not exist; its stills go into COPY.stills
        #[arg(long, value_name = "COPY")]
        out: PathBuf,
    },
    /// Check a data file: that it is whole, that every state of every project can be read, that histories hold together,
    /// and that the stills are there
    ///
    /// Nothing is changed. The exit status is 1 if something is wrong.
    Check {
        /// The data file, or a copy of one
        #[arg(value_name = "FILE", default_value = "ratiomet.db")]
        data: PathBuf,
    },
    /// Make a data file out of a copy, with its stills; nothing is overwritten
    Restore {
        /// The copy, as ratiomet backup or the server made it
        #[arg(value_name = "COPY")]
        copy: PathBuf,
        /// The data file, which must not exist
        #[arg(long, value_name = "FILE", default_value = "ratiomet.db")]
        data: PathBuf,
    },
    /// Print what a shell needs to complete commands
    Completions {
        /// The shell
        #[arg(value_enum)]
        shell: clap_complete::Shell,
    },
    /// Write the manual pages of all commands into a folder
    Man {
        /// The folder; it is made if it does not exist
        #[arg(long, value_name = "DIR")]
        out: PathBuf,
    },
    /// Hand a project over without a browser: one archive of sheets, tables, interchange files and recipes
    ///
    /// Refused with exit status 1 while stop findings stand that nobody has accepted.
    Export {
        /// The data file
        #[arg(long, value_name = "FILE", default_value = "ratiomet.db")]
        data: PathBuf,
        /// The project's name or number
        #[arg(long)]
        project: String,
        /// Where the archive goes; it is replaced if it is there
        #[arg(long, value_name = "FILE")]
        out: PathBuf,
        /// Only these formats: html, pdf, csv, json, fdl, otio, charts_svg, charts_png, recipes, signals, outcomes
        #[arg(long, value_delimiter = ',', value_name = "FORMATS")]
        formats: Vec<String>,
        /// Only these sources, by name or number
        #[arg(long, value_delimiter = ',', value_name = "SOURCES")]
        sources: Vec<String>,
        /// Only these frames, by name or number
        #[arg(long, value_delimiter = ',', value_name = "FRAMES")]
        frames: Vec<String>,
        /// How the colour of recipes is sampled: 4:2:0, 4:2:2 or 4:4:4
        #[arg(long, default_value = "4:2:0")]
        chroma: String,
        /// A typing profile of the house: the numbers to type are those that it asks for
        #[arg(long, value_name = "NAME")]
        profile: Option<String>,
        /// Add it to this OpenTimelineIO file or Framing Decision List instead; all else in it stays
        #[arg(long, value_name = "FILE")]
        into: Option<PathBuf>,
        /// Plan sheets and charts show the stills of the sources and what comes out of them
        #[arg(long)]
        pictures: bool,
    },
    /// Take files into a project: footage by its headers, lists, timelines and framing lists by their content
    ///
    /// Says of each what was understood, what is doubtful and what was left out. A source that is there already by its
    /// name stays as it is; what its file says otherwise now is told. All of it is one step, which can be undone. The
    /// exit status is 1 if something was not taken.
    Import {
        /// The data file; it is made if it does not exist
        #[arg(long, value_name = "FILE", default_value = "ratiomet.db")]
        data: PathBuf,
        /// The project's name or number; it is made if it does not exist
        #[arg(long)]
        project: String,
        /// Let sources that are there take what their files say now, but for what was typed over
        #[arg(long)]
        update: bool,
        /// The files
        #[arg(required = true, value_name = "FILE")]
        files: Vec<PathBuf>,
    },
    /// Say of a movie or a still that it shows a sphere, in a copy of it; or that it no longer does
    ///
    /// Both generations of the published boxes are written into MP4 and MOV, the projection into the tracks of Matroska and
    /// WebM, panorama metadata in XMP into JPEG and PNG; nothing else of the file changes but the places in its index. The file itself is not touched, unless that is asked
    /// for. What it said before, and what it says now, is printed.
    Tag {
        /// The movie, MP4, MOV, Matroska or WebM, in one piece; or the still, JPEG or PNG
        #[arg(value_name = "IN")]
        file: PathBuf,
        /// Where the copy goes; it is replaced if it is there
        #[arg(long, value_name = "FILE", required_unless_present = "in_place")]
        out: Option<PathBuf>,
        /// Write the file itself anew, whole before it takes the place of the old one
        #[arg(long, conflicts_with = "out")]
        in_place: bool,
        /// How the sphere is unrolled
        #[arg(long, value_parser = ["equirectangular"], required_unless_present = "none")]
        projection: Option<String>,
        /// How the eyes share the frame; the left one is on top, or left, where nothing else is said
        #[arg(long, value_parser = ["mono", "top-bottom", "side-by-side"], default_value = "mono")]
        stereo: String,
        /// The right eye is on top, or left: only Matroska and WebM can say so
        #[arg(long, conflicts_with = "none")]
        right_eye_first: bool,
        /// How much of the sphere each eye's picture holds around its middle, in degrees across and up
        #[arg(long, value_name = "ACROSSxUP", value_parser = tag::span, default_value = "360x180")]
        span: tag::Span,
        /// Where a player looks first, in degrees: to the right, up, and rolled with the clock
        #[arg(long, value_name = "YAW,PITCH,ROLL", value_parser = tag::view, default_value = "0,0,0", allow_hyphen_values = true)]
        initial_view: tag::View,
        /// Take whatever is said of spheres off again
        #[arg(long, conflicts_with = "projection")]
        none: bool,
    },
    /// Carry a conversion out on a still: the outcome at the raster of the frame, as PNG, or OpenEXR by its name
    ///
    /// An outcome's pixel shows picture when its centre lies inside the image, else it is black. 8 and 16 bit stay what
    /// they are; floats become 16 bit in PNG and stay what they are in OpenEXR. The exit status is 1 if something is
    /// refused.
    Render {
        /// The request as JSON, or @ and the file that it stands in: of a conversion, or sphere_view (the flat view),
        /// sphere_level (the turned sphere), sphere_place (a sphere with the picture on it)
        #[arg(long, value_name = "JSON|@FILE")]
        request: String,
        /// The still: PNG, JPEG, TIFF, WebP, OpenEXR or DPX, as large as the source, or a whole fraction of it
        #[arg(long = "in", value_name = "STILL")]
        still: PathBuf,
        /// The sphere that the picture of a sphere_place is put onto
        #[arg(long, value_name = "SPHERE")]
        onto: Option<PathBuf>,
        /// Where the outcome goes; it is replaced if it is there
        #[arg(long, value_name = "FILE")]
        out: PathBuf,
        /// How samples are worked out; a picture that becomes smaller widens the filter
        #[arg(long, value_parser = PossibleValuesParser::new(Filter::ALL.map(Filter::word)), default_value = "lanczos3")]
        filter: String,
        /// Resample in linear light instead of the signal as stored
        #[arg(long)]
        linear: bool,
        /// The transfer function that leads to linear light
        #[arg(long, value_parser = PossibleValuesParser::new(Transfer::ALL.map(Transfer::word)), default_value = "srgb", requires = "linear")]
        transfer: String,
        /// Print the milliseconds of each stage on standard error, one JSON line
        #[arg(long)]
        times: bool,
    },
    /// Find the black edges of stills, to the pixel
    ///
    /// The exit status is 1 if any file was not read.
    Borders {
        /// The stills
        #[arg(required = true, value_name = "FILE")]
        files: Vec<PathBuf>,
        /// Give a JSON object a line for each file
        #[arg(long)]
        json: bool,
        /// The files are stills of one source: what is black in all of them
        #[arg(long)]
        together: bool,
    },
    /// Print the JSON Schema (2020-12) of a file that Ratiomet writes
    Schema {
        /// Which file
        #[arg(value_enum)]
        file: SchemaOf,
    },
    /// Print the description of the HTTP API (OpenAPI 3.1, JSON)
    Openapi,
}

/// A file of which there is a schema.
#[derive(Clone, Copy, Debug, ValueEnum)]
enum SchemaOf {
    /// A project, as it is exported
    Project,
    /// A library, as it is exported
    Library,
    /// `conversions.json` of a hand-off
    Conversions,
    /// `manifest.json` of a hand-off
    Manifest,
}

#[derive(Debug, Args)]
struct Address {
    /// Where to listen; port 0 takes any free port
    #[arg(long, value_name = "ADDRESS:PORT", default_value = "127.0.0.1:7239")]
    listen: SocketAddr,
    /// A further host name under which the server may be called; may be repeated
    #[arg(long = "host", value_name = "NAME")]
    hosts: Vec<String>,
    /// Who may use it, as ratiomet people makes the file; needed wherever others can reach it
    #[arg(long, value_name = "FILE")]
    people: Option<PathBuf>,
    /// The address that people know it by, when a proxy stands before it, such as https://ratiomet.example
    #[arg(long, value_name = "URL")]
    public_url: Option<Public>,
    /// The address of a proxy that is believed when it says from where requests come; may be repeated
    #[arg(long = "proxy", value_name = "ADDRESS")]
    proxies: Vec<IpAddr>,
    /// Serve by TLS: the certificate and those that vouch for it, as one PEM file
    #[arg(long, value_name = "FILE", requires = "tls_key")]
    tls_certificate: Option<PathBuf>,
    /// The key of the certificate, as a PEM file
    #[arg(long, value_name = "FILE", requires = "tls_certificate")]
    tls_key: Option<PathBuf>,
}

impl Address {
    fn reached(self) -> Reached {
        Reached {
            listen: self.listen,
            hosts: self.hosts,
            public: self.public_url,
            proxies: self.proxies,
            tls: self.tls_certificate.zip(self.tls_key),
            people: self.people,
        }
    }
}

/// Runs what the command line asks for. The error is a sentence for the person who typed it.
pub fn run() -> Result<ExitCode, String> {
    match Cli::parse().command {
        Command::Serve { address, data, media, copies } => {
            let beside = Beside { media: media.as_deref(), copies: Copies(usize::from(copies)) };
            serve(address.reached(), &data, &beside, |_| Ok(()))
        }
        Command::Demo { address, data, media, fresh } => {
            serve(address.reached(), &data, &Beside { media: media.as_deref(), copies: Copies(0) }, |store| {
                if fresh || !store.has_demo().map_err(|error| error.to_string())? {
                    let project = demo::kiln(&Stills::beside(&data))?;
                    store.seed_demo(&project).map_err(|error| error.to_string())?;
                }
                Ok(())
            })
        }
        Command::Calc { file } => Ok(calc(file.as_deref())),
        Command::Ask { question, json } => Ok(answer(&question.join(" "), json)),
        Command::Probe { files, json } => match probe::run(&files, json) {
            Ok(0) => Ok(ExitCode::SUCCESS),
            Ok(_) => Ok(ExitCode::from(1)),
            Err(error) if error.kind() == io::ErrorKind::BrokenPipe => Ok(ExitCode::SUCCESS),
            Err(error) => Err(error.to_string()),
        },
        Command::Export { data, project, out, formats, sources, frames, chroma, profile, into, pictures } => {
            let chosen = handoff::Chosen { project, formats, sources, frames, chroma, profile, into, pictures };
            handoff::export(&data, &chosen, &out)
        }
        Command::Import { data, project, update, files } => {
            import::run(&data, &import::Asked { project, files, update })
        }
        Command::Render { request, still, onto, out, filter, linear, transfer, times } => {
            let chosen = |word: &str| Transfer::ALL.into_iter().find(|transfer| transfer.word() == word);
            let filter = Filter::ALL.into_iter().find(|each| each.word() == filter).unwrap_or_default();
            let light = if linear { chosen(&transfer) } else { None };
            let how = Resampling { light, ..Resampling::by(filter) };
            let order = render::Order { request: &request, still: &still, onto: onto.as_deref(), out: &out };
            render::run(&order, &how, times)
        }
        Command::Tag { file, out, in_place: _, projection: _, stereo, right_eye_first, span, initial_view, none } => {
            let stereo = match stereo.as_str() {
                "top-bottom" => Stereo::TopBottom,
                "side-by-side" => Stereo::SideBySide,
                _ => Stereo::Mono,
            };
            if right_eye_first && stereo == Stereo::Mono {
                return Err(
                    "one eye has no order: say --stereo top-bottom or side-by-side with --right-eye-first".to_owned()
                );
            }
            let said = Tag { stereo, right_first: right_eye_first, span: span.0, initial_view: initial_view.0 };
            tag::run(&file, out.as_deref(), (!none).then_some(said))
        }
        Command::Borders { files, json, together } => borders::run(&files, json, together),
        Command::Schema { file } => {
            let schema = match file {
                SchemaOf::Project => schema::of::<ProjectDocument>("A project of Ratiomet"),
                SchemaOf::Library => schema::of::<LibraryDocument>("A library of Ratiomet"),
                SchemaOf::Conversions => schema::of::<Numbers<'_>>("conversions.json of a hand-off of Ratiomet"),
                SchemaOf::Manifest => schema::of::<Manifest<'_>>("manifest.json of a hand-off of Ratiomet"),
            };
            println!("{schema:#}");
            Ok(ExitCode::SUCCESS)
        }
        Command::People(command) => people::run(command).map(|()| ExitCode::SUCCESS),
        Command::Backup { data, out } => keeping::backup(&data, &out).map(|()| ExitCode::SUCCESS),
        Command::Check { data } => keeping::check(&data),
        Command::Restore { copy, data } => keeping::restore(&copy, &data).map(|()| ExitCode::SUCCESS),
        Command::Completions { shell } => {
            clap_complete::generate(shell, &mut Cli::command(), "ratiomet", &mut io::stdout());
            Ok(ExitCode::SUCCESS)
        }
        Command::Man { out } => man(&out).map(|()| ExitCode::SUCCESS),
        Command::Openapi => {
            println!("{}", server::openapi_json());
            Ok(ExitCode::SUCCESS)
        }
    }
}

/// Writes a manual page for each command.
fn man(out: &Path) -> Result<(), String> {
    let failed = |error: io::Error| format!("{} cannot be written: {error}", out.display());
    std::fs::create_dir_all(out).map_err(failed)?;
    clap_mangen::generate_to(Cli::command(), out).map_err(failed)
}

/// Answers a question; on the screen in sentences, or as JSON.
fn answer(question: &str, json: bool) -> ExitCode {
    match ask::ask(question) {
        Ok(answer) if json => println!("{}", serde_json::to_string(&answer).expect("plain data with text keys")),
        Ok(answer) => {
            for remark in &answer.remarks {
                eprintln!("({remark})");
            }
            println!("{}: {}", answer.understood, answer.sentence);
            for other in &answer.others {
                println!("or {}: {}", other.understood, other.sentence);
            }
        }
        Err(no) if json => {
            println!("{}", serde_json::to_string(&no).expect("plain data with text keys"));
            return ExitCode::from(1);
        }
        Err(no) => {
            eprintln!("ratiomet: {}. Understood are, for example:", no.why);
            for example in no.examples {
                eprintln!("  {example}");
            }
            return ExitCode::from(1);
        }
    }
    ExitCode::SUCCESS
}

fn calc(file: Option<&Path>) -> ExitCode {
    let answered = match file {
        None => calc_lines::run(io::stdin(), io::stdout()),
        Some(path) => match File::open(path) {
            Ok(file) => calc_lines::run(file, io::stdout()),
            Err(error) => {
                eprintln!("ratiomet: {} cannot be read: {error}", path.display());
                return ExitCode::from(2);
            }
        },
    };
    match answered {
        Ok(Outcome::AllAnswered) => ExitCode::SUCCESS,
        Ok(Outcome::SomeRefused) => ExitCode::from(1),
        // A reader that has seen enough, such as head, is no failure.
        Err(error) if error.kind() == io::ErrorKind::BrokenPipe => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("ratiomet: {error}");
            ExitCode::from(2)
        }
    }
}
