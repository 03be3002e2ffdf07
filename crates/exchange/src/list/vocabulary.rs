//! Headings as people write them, in English, German, French, Spanish and Italian (common practice).

use unicode_normalization::UnicodeNormalization;
use unicode_normalization::char::is_combining_mark;

use super::Role;

/// How surely a heading says what its column holds; the surer one wins where several could.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Certainty {
    /// A word of it does: its cells must bear it out.
    Loose,
    /// It often does, and often means something else: its cells must bear it out.
    Often,
    /// It does.
    Sure,
}

/// The longest heading that is compared.
const LONGEST: usize = 120;

/// What a heading says that its column holds, and how surely.
pub(super) fn role_of(heading: &str) -> Option<(Role, Certainty)> {
    if heading.len() > LONGEST {
        return None;
    }
    let bare = heading.split(['(', '[']).next().unwrap_or_default();
    let (all, plain) = (plain(heading), plain(bare));
    let among = |list: &[(Role, &[&str])]| {
        let holds = |names: &[&str]| names.contains(&all.as_str()) || names.contains(&plain.as_str());
        list.iter().find(|(_, names)| holds(names)).map(|(role, _)| *role)
    };
    if let Some(role) = among(SURE) {
        return Some((role, Certainty::Sure));
    }
    if let Some(role) = among(OFTEN) {
        return Some((role, Certainty::Often));
    }
    let words = words(bare);
    if words.len() < 2 || speaks_of_something_else(bare) {
        return None;
    }
    // Whole words side by side that make a sure heading of four letters and more.
    let runs = (0..words.len()).flat_map(|from| (from + 1..=words.len()).map(move |to| (from, to)));
    let mut runs: Vec<String> = runs.map(|(from, to)| words[from..to].concat()).filter(|run| run.len() >= 3).collect();
    runs.sort_by_key(|run| std::cmp::Reverse(run.len()));
    let found = runs.iter().find_map(|run| SURE.iter().find(|(_, names)| names.contains(&run.as_str())));
    found.map(|(role, _)| (*role, Certainty::Loose))
}

/// Whether a column that is not used may say something of the picture all the same.
pub(super) fn could_matter(heading: &str) -> bool {
    let words = words(heading);
    words.iter().any(|word| MATTERING.iter().any(|known| word.starts_with(known)))
        && !words.iter().any(|word| HARMLESS.contains(&word.as_str()))
}

/// Whether a heading speaks of what is made of the footage, or of something else than its pictures.
pub(super) fn speaks_of_something_else(heading: &str) -> bool {
    words(heading).iter().any(|word| ELSEWHERE.contains(&word.as_str()))
}

/// Small letters and digits only, without marks.
fn plain(text: &str) -> String {
    words(text).concat()
}

/// The words of a heading in small letters without marks: "ClipName" is two.
fn words(text: &str) -> Vec<String> {
    let mut words = vec![String::new()];
    let mut small = false;
    for letter in text.nfkd().filter(|letter| !is_combining_mark(*letter)) {
        let begins = letter.is_uppercase() && small;
        small = letter.is_lowercase();
        if begins || !letter.is_alphanumeric() {
            words.push(String::new());
        }
        let word = words.last_mut().expect("there is always one");
        match letter {
            'ß' => word.push_str("ss"),
            _ if letter.is_alphanumeric() => word.extend(letter.to_lowercase()),
            _ => {}
        }
    }
    words.retain(|word| !word.is_empty());
    words
}

const SURE: &[(Role, &[&str])] = &[
    (
        Role::Name,
        &[
            "name",
            "clip",
            "clipname",
            "clips",
            "clipid",
            "source",
            "sourcename",
            "sourcefile",
            "filename",
            "file",
            "clipfile",
            "dateiname",
            "datei",
            "quelle",
            "quelldatei",
            "nom",
            "nomduclip",
            "nomclip",
            "nomdufichier",
            "nomfichier",
            "nomdefichier",
            "fichier",
            "nombre",
            "nombredelclip",
            "nombreclip",
            "nombredelarchivo",
            "nombredearchivo",
            "archivo",
            "fichero",
            "nome",
            "nomeclip",
            "nomedellaclip",
            "nomefile",
            "nomedelfile",
        ],
    ),
    (
        Role::Note,
        &[
            "note",
            "notes",
            "comment",
            "comments",
            "description",
            "remark",
            "remarks",
            "notiz",
            "notizen",
            "bemerkung",
            "bemerkungen",
            "kommentar",
            "kommentare",
            "anmerkung",
            "anmerkungen",
            "beschreibung",
            "remarque",
            "remarques",
            "commentaire",
            "commentaires",
            "observations",
            "nota",
            "notas",
            "comentario",
            "comentarios",
            "observaciones",
            "commento",
            "commenti",
            "osservazioni",
            "descripcion",
            "descrizione",
        ],
    ),
    (
        Role::Size,
        &[
            "size",
            "resolution",
            "raster",
            "framesize",
            "imagesize",
            "imageresolution",
            "dimensions",
            "dimension",
            "storedsize",
            "pixels",
            "pixelsize",
            "wxh",
            "widthxheight",
            "videosize",
            "videoresolution",
            "stored",
            "res",
            "recordedresolution",
            "recordingresolution",
            "clipresolution",
            "sourceresolution",
            "aufloesung",
            "auflosung",
            "bildauflosung",
            "bildgrosse",
            "bildgroesse",
            "abmessungen",
            "pixelmasse",
            "definition",
            "resolutiondimage",
            "tailledimage",
            "tailleimage",
            "tailledelimage",
            "resolucion",
            "tamano",
            "tamanodeimagen",
            "tamanodecuadro",
            "dimensiones",
            "risoluzione",
            "dimensione",
            "dimensioni",
            "dimensioneimmagine",
            "dimensionifotogramma",
        ],
    ),
    (
        Role::Width,
        &[
            "width",
            "w",
            "storedwidth",
            "pixelswide",
            "imagewidth",
            "framewidth",
            "hres",
            "xres",
            "breite",
            "bildbreite",
            "largeur",
            "ancho",
            "anchura",
            "larghezza",
        ],
    ),
    (
        Role::Height,
        &[
            "height",
            "h",
            "storedheight",
            "pixelshigh",
            "imageheight",
            "frameheight",
            "vres",
            "yres",
            "lines",
            "hohe",
            "hoehe",
            "bildhohe",
            "bildhoehe",
            "hauteur",
            "altura",
            "alto",
            "altezza",
        ],
    ),
    (
        Role::PixelAspect,
        &[
            "pixelaspect",
            "pixelaspectratio",
            "par",
            "sar",
            "sampleaspect",
            "sampleaspectratio",
            "pixelshape",
            "pasp",
            "aspectofpixels",
            "pixelseitenverhaltnis",
            "pixelseitenverhaeltnis",
            "pixelverhaltnis",
            "aspectdepixel",
            "aspectdespixels",
            "aspectpixel",
            "rapportdepixel",
            "rapportdespixels",
            "rapportdaspectdespixels",
            "rapportdaspectdepixel",
            "formatdespixels",
            "relaciondeaspectodepixel",
            "relaciondeaspectodelpixel",
            "relaciondeaspectodepixeles",
            "aspectodepixel",
            "aspectodelpixel",
            "proporciondepixel",
            "proporcionesdepixel",
            "proporzionipixel",
            "proporzionideipixel",
            "proporzioneprixel",
            "aspettopixel",
            "rapportopixel",
            "rapportodaspettopixel",
        ],
    ),
    (
        Role::Squeeze,
        &[
            "squeeze",
            "lenssqueeze",
            "anamorphic",
            "squeezefactor",
            "desqueeze",
            "desqueezefactor",
            "anamorphicfactor",
            "anamorphicsqueeze",
            "squeezeratio",
            "entzerrung",
            "entzerrungsfaktor",
            "anamorphfaktor",
            "anamorphotfaktor",
            "anamorphotisch",
            "anamorphot",
            "stauchung",
            "stauchungsfaktor",
            "squeezefaktor",
            "anamorphose",
            "anamorphique",
            "desanamorphose",
            "facteuranamorphique",
            "coefficientanamorphique",
            "facteurdanamorphose",
            "anamorfico",
            "factoranamorfico",
            "factordeanamorfosis",
            "compresionanamorfica",
            "anamorfosis",
            "anamorfosi",
            "fattoreanamorfico",
            "fattoredianamorfosi",
            "compressioneanamorfica",
        ],
    ),
    (
        Role::Rotation,
        &[
            "rotation",
            "turn",
            "rotate",
            "orientation",
            "turned",
            "rotationdeg",
            "drehung",
            "ausrichtung",
            "rotacion",
            "giro",
            "orientacion",
            "rotazione",
            "orientamento",
        ],
    ),
    (
        Role::Rate,
        &[
            "rate",
            "framerate",
            "fps",
            "framespersecond",
            "framessec",
            "videoframerate",
            "clipfps",
            "recordingfps",
            "ratefps",
            "bildrate",
            "bildfrequenz",
            "bilderprosekunde",
            "bilds",
            "bildersek",
            "cadence",
            "ips",
            "imagess",
            "imagesparseconde",
            "frequencedimages",
            "frequenceimage",
            "cuadrosporsegundo",
            "fotogramasporsegundo",
            "cps",
            "velocidaddefotogramas",
            "velocidaddecuadros",
            "frecuenciadecuadros",
            "frecuenciadefotogramas",
            "cadencia",
            "fotogrammialsecondo",
            "frequenzafotogrammi",
            "frequenzadeifotogrammi",
            "velocitafotogrammi",
            "cadenza",
        ],
    ),
    (
        Role::Scan,
        &[
            "scan",
            "scantype",
            "scanmode",
            "fieldorder",
            "fields",
            "scanning",
            "interlacing",
            "interlaced",
            "fielddominance",
            "abtastung",
            "halbbilder",
            "halbbildfolge",
            "halbbildreihenfolge",
            "halbbilddominanz",
            "zeilensprung",
            "balayage",
            "trames",
            "ordredestrames",
            "ordredetrame",
            "dominancedetrame",
            "entrelacement",
            "barrido",
            "exploracion",
            "campos",
            "ordendecampos",
            "dominanciadecampo",
            "entrelazado",
            "scansione",
            "campi",
            "ordinecampi",
            "ordinedeicampi",
            "dominanzacampo",
            "interlacciamento",
        ],
    ),
    (
        Role::SignalRange,
        &[
            "range",
            "signalrange",
            "levels",
            "colorrange",
            "colourrange",
            "videolevels",
            "datalevels",
            "videorange",
            "levelrange",
            "signalbereich",
            "wertebereich",
            "pegel",
            "videopegel",
            "farbbereich",
            "plage",
            "plagedesignal",
            "plagedusignal",
            "niveaux",
            "niveauxvideo",
            "rango",
            "rangodesenal",
            "rangodecolor",
            "niveles",
            "nivelesdevideo",
            "intervallo",
            "livelli",
            "livellivideo",
            "gammadelsegnale",
        ],
    ),
    (
        Role::Projection,
        &["projection", "picture", "spherical", "sphere", "vr", "360", "projektion", "proyeccion", "proiezione"],
    ),
    (Role::Subject, &["subject", "subjectbox", "pointofinterest"]),
    (
        Role::Insets,
        &[
            "insets",
            "border",
            "borders",
            "activepicture",
            "blanking",
            "insetsltrb",
            "ltrb",
            "rander",
            "raender",
            "bords",
            "marges",
            "bordes",
            "margenes",
            "bordi",
            "margini",
        ],
    ),
    (Role::Left, &["left", "cropleft", "insetleft", "offleft", "links", "gauche", "izquierda", "sinistra"]),
    (Role::Top, &["top", "croptop", "insettop", "offtop", "oben", "haut", "arriba", "sopra"]),
    (Role::Right, &["right", "cropright", "insetright", "offright", "rechts", "droite", "derecha", "destra"]),
    (Role::Bottom, &["bottom", "cropbottom", "insetbottom", "offbottom", "unten", "bas", "abajo", "sotto"]),
];

const OFTEN: &[(Role, &[&str])] = &[
    (
        Role::Name,
        &[
            "shot",
            "title",
            "reel",
            "camera",
            "tape",
            "tapename",
            "reelname",
            "take",
            "take name",
            "einstellung",
            "aufnahme",
            "titel",
            "rolle",
            "kamera",
            "band",
            "plan",
            "rush",
            "bobine",
            "titre",
            "prise",
            "toma",
            "plano",
            "fuente",
            "titulo",
            "rollo",
            "camara",
            "ripresa",
            "inquadratura",
            "sorgente",
            "titolo",
            "rullo",
            "video",
        ],
    ),
    (
        Role::Size,
        &["format", "shotsize", "imageformat", "videoformat", "formato", "taille", "grosse", "groesse", "bildformat"],
    ),
    (
        Role::Squeeze,
        &["lens", "optics", "objektiv", "optik", "objectif", "optique", "objetivo", "optica", "obiettivo", "ottica"],
    ),
    (Role::Rate, &["speed", "shootingrate", "velocidad", "geschwindigkeit", "vitesse", "velocita"]),
    (Role::PixelAspect, &["aspect", "aspectratio", "pixelformat"]),
    (Role::SignalRange, &["gamma"]),
];

/// Words of headings that speak of what is made of the footage, or of something else than its pictures.
const ELSEWHERE: &[&str] = &[
    "delivery",
    "deliver",
    "deliverable",
    "output",
    "out",
    "target",
    "export",
    "final",
    "master",
    "proxy",
    "project",
    "timeline",
    "sequence",
    "audio",
    "sound",
    "sample",
    "bit",
    "data",
    "file",
    "disk",
    "focal",
    "sensor",
    "display",
    "playback",
    "lieferung",
    "ausgabe",
    "ziel",
    "projekt",
    "livraison",
    "sortie",
    "cible",
    "projet",
    "entrega",
    "salida",
    "destino",
    "proyecto",
    "consegna",
    "uscita",
    "destinazione",
    "progetto",
    "timecode",
    "tc",
    "start",
    "end",
    "date",
];

/// How words begin that say something of the picture.
const MATTERING: &[&str] = &[
    "squeeze",
    "anamorph",
    "desqueeze",
    "entzerr",
    "aspect",
    "ratio",
    "verhaltnis",
    "rapport",
    "relacion",
    "rapporto",
    "crop",
    "mask",
    "matte",
    "guide",
    "extract",
    "frameline",
    "beschnitt",
    "kasch",
    "recadr",
    "recorte",
    "ritaglio",
    "rotat",
    "orient",
    "flip",
    "flop",
    "mirror",
    "upside",
    "dreh",
    "gespiegelt",
    "speed",
    "sensorfps",
    "shutterfps",
    "offspeed",
    "varispeed",
    "rate",
    "fps",
    "resolution",
    "auflosung",
    "size",
    "format",
    "raster",
    "scan",
    "field",
    "interlac",
    "range",
    "level",
    "pixel",
    "par",
    "sar",
    "lens",
    "projection",
    "sphere",
    "vr",
];

/// Words with them that say that it is something else after all.
const HARMLESS: &[&str] = &[
    "audio",
    "sound",
    "sample",
    "bit",
    "bitrate",
    "data",
    "file",
    "disk",
    "focal",
    "serial",
    "pixelformat",
    "colour",
    "color",
    "gamma",
    "date",
    "codec",
    "chroma",
    "id",
    "type",
    "maker",
    "model",
    "card",
    "timecode",
    "tc",
    "delivery",
    "output",
    "target",
    "export",
    "deliverable",
    "sampling",
    "serie",
    "number",
    "stop",
    "mm",
    "aperture",
    "shutter",
];

#[cfg(test)]
mod tests {
    use super::{Certainty, Role, could_matter, role_of};

    #[test]
    fn every_heading_is_spelled_as_it_is_compared() {
        for (_, names) in super::SURE.iter().chain(super::OFTEN) {
            for name in *names {
                assert_eq!(super::plain(name), name.replace(' ', ""), "{name}");
            }
        }
        let all: Vec<&str> = super::SURE.iter().flat_map(|(_, names)| names.iter().copied()).collect();
        for (at, name) in all.iter().enumerate() {
            assert!(!all[at + 1..].contains(name), "{name} stands twice");
        }
    }

    #[test]
    fn headings_are_known_in_five_languages_and_with_units() {
        for (heading, role, certainty) in [
            ("Clip Name", Role::Name, Certainty::Sure),
            ("Camera", Role::Name, Certainty::Often),
            ("Auflösung", Role::Size, Certainty::Sure),
            ("Bildgröße (px)", Role::Size, Certainty::Sure),
            ("Fréquence d’images", Role::Rate, Certainty::Sure),
            ("Relación de aspecto de píxel", Role::PixelAspect, Certainty::Sure),
            ("Fattore anamorfico", Role::Squeeze, Certainty::Sure),
            ("Frame Rate [fps]", Role::Rate, Certainty::Sure),
            ("A-cam clip name", Role::Name, Certainty::Loose),
            ("Clip_Resolution", Role::Size, Certainty::Sure),
            ("Format", Role::Size, Certainty::Often),
        ] {
            assert_eq!(role_of(heading), Some((role, certainty)), "{heading}");
        }
        for other in ["Delivery size", "Output resolution", "Project fps", "Focal length", "Audio sample rate", "Iris"]
        {
            assert!(!matches!(role_of(other), Some((_, Certainty::Sure | Certainty::Loose))), "{other}");
        }
        assert!(could_matter("Frame lines ratio") && could_matter("Crop factor") && !could_matter("Audio sample rate"));
    }
}
