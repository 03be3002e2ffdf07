//! The demo project: "The Kiln at Saltreed", an invented documentary about glassblowers on a tidal
//! island. Every name in it is invented.

use ratiomet_core::project::{
    Choice, Edit, Footage, FrameId, Name, Note, OnSphere, Pair, Project, SourceId, StillFile,
};
use ratiomet_core::sphere::FieldOfView;
use ratiomet_wire::describe::Json;
use ratiomet_wire::read::Reader;

use crate::stills::Stills;

const NAME: &str = r#"{"name":"The Kiln at Saltreed","tolerances":{"rates":[["24","25"],["25","24"]]}}"#;

/// The footage, as it would be sent to the API.
const FOOTAGE: &[&str] = &[
    r#"{"name":"A014 Furnace mouth","note":"Main camera, 2x scope lens","geometry":{"raster":[2880,2160],"squeeze":"2"},"rate":"24","subject":{"x":"0.4","y":"0.3","width":"0.14","height":"0.6"},"scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"furnace"}}"#,
    r#"{"name":"B003 Harbour wall","note":"Open gate","geometry":{"raster":[4608,3164]},"rate":"24","subject":{"x":"0.16","y":"0.22","width":"0.17","height":"0.66"},"scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"harbour"}}"#,
    r#"{"name":"D021 Reed beds","note":"From the air","geometry":{"raster":[5120,2700]},"rate":"25","scan":"progressive","signal_range":"narrow","still":{"scene":"reeds"}}"#,
    r#"{"name":"P007 Market stall","note":"Phone held upright, stored sideways","geometry":{"raster":[1920,1080],"rotation":90},"rate":"30","scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"market"}}"#,
    r#"{"name":"T1987 Ferry tape","note":"625-line tape, captured with its borders","geometry":{"raster":[720,576],"pixel_aspect":"12:11","active":{"left":8,"top":4,"right":10,"bottom":6}},"rate":"25","scan":"interlaced","signal_range":"narrow","upright_known":true,"still":{"scene":"ferry"}}"#,
    r#"{"name":"S002 Kiln walk","note":"Whole sphere; its horizon was tilted, and is level as it is turned","geometry":{"raster":[5760,2880]},"rate":"30","projection":"sphere","turn":{"yaw":"0","pitch":"3","roll":"6"},"scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"kiln"}}"#,
    r#"{"name":"C041 Blowpipe close","note":"1.5x lens on a 3:2 sensor","geometry":{"raster":[6240,4160],"squeeze":"1.5"},"rate":"24","scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"furnace"}}"#,
    r#"{"name":"C044 Glory hole","note":"1.8x lens on 16:9","geometry":{"raster":[3840,2160],"squeeze":"1.8"},"rate":"24","scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"kiln"}}"#,
    r#"{"name":"H120 Gather in slow","note":"120 a second, for slow motion","geometry":{"raster":[3840,2160]},"rate":"120","playback":"every_frame","scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"furnace"}}"#,
    r#"{"name":"R010 Tide table screen","note":"Screen recording; the recorder adds a border","geometry":{"raster":[2560,1440],"active":{"left":64,"top":48,"right":64,"bottom":24}},"rate":"60","scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"chart"}}"#,
    r#"{"name":"W055 Workshop still","note":"Full-range recording","geometry":{"raster":[3840,2160]},"rate":"30000/1001","signal_range":"full","scan":"progressive","upright_known":true,"still":{"scene":"kiln"}}"#,
    r#"{"name":"N1994 Causeway reel","note":"Wide 525-line archive reel","geometry":{"raster":[720,480],"pixel_aspect":"40:33"},"rate":"30000/1001","scan":"interlaced","signal_range":"narrow","upright_known":true,"still":{"scene":"harbour"}}"#,
    r#"{"name":"P011 Child at the gate","note":"Phone, upright as stored","geometry":{"raster":[2160,3840]},"rate":"30","scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"market"}}"#,
    r#"{"name":"K002 Kiln log pages","note":"Camera hung upside down over the desk","geometry":{"raster":[4096,2160],"rotation":180},"rate":"24","scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"pages"}}"#,
    r#"{"name":"G001 Guide frame test","note":"4:3 guide inside a 16:9 sensor, 2x lens","geometry":{"raster":[3840,2160],"squeeze":"2","active":{"left":480,"right":480}},"rate":"24","scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"chart"}}"#,
    r#"{"name":"L008 Map of the island","note":"Scanned plate for the titles","geometry":{"raster":[8000,8000]},"scan":"progressive","signal_range":"narrow","upright_known":true,"still":{"scene":"map"}}"#,
];

/// Flat views out of the sphere, which come later than the frames.
const VIEWS: &[&str] = &[
    r#"{"name":"S002 Kiln view","note":"Out of the kiln walk: the kiln","geometry":{"raster":[1920,1080]},"rate":"30","scan":"progressive","signal_range":"narrow","upright_known":true,"view":{"sphere":6,"fov":"75","orientation":{"yaw":"10","pitch":"8"}}}"#,
    r#"{"name":"S002 Tide view","note":"Out of the kiln walk: away from the kiln, narrow","geometry":{"raster":[1920,1080]},"rate":"30","scan":"progressive","signal_range":"narrow","upright_known":true,"view":{"sphere":6,"fov":"50","orientation":{"yaw":"-120","pitch":"-2"}}}"#,
];

/// The sphere among the footage, and what is said on it: the words, and where they stand.
const CAPTION: (usize, &str, &str) = (5, "The Kiln at Saltreed", r#"{"yaw":"32","pitch":"24"}"#);

/// The frames, each with the conversions that have a framing of their own: the place of the
/// footage in the list above, and what the conversion adds. A frame that goes through another names its
/// number: the first follows on the last of the footage.
const FRAMES: &[(&str, &[(usize, &str)])] = &[
    (
        r#"{"name":"Festival scope","note":"Cinema scope 4K","geometry":{"raster":[4096,1716]},"rate":"24","method":"fill"}"#,
        &[(1, r#"{"own":{"method":"fill","shift":["0","-220"]}}"#)],
    ),
    (
        r#"{"name":"Streaming UHD","geometry":{"raster":[3840,2160]},"rate":"24","safe_areas":["ebu_r95"],"guides":["2.39"],"method":"fill","file":{"container":"mp4","codec":"h265","profile":"main_10","depth":10,"chroma":"4:2:0","average_mbps":"25","highest_mbps":"38","keyframe_distance":48,"sound":{"coding":"aac","rate":48000,"kbps":"320","channels":2}}}"#,
        &[(4, r#"{"own":{"method":"fit"}}"#), (0, r#"{"own":{"method":"fill","zoom":"1","shift":["-240","0"]}}"#)],
    ),
    (
        r#"{"name":"Broadcast 2.00","note":"HD with a 2.00 picture","geometry":{"raster":[1920,1080],"picture_ratio":"2.00"},"rate":"25","safe_areas":["ebu_r95","smpte_st2046_1"],"method":"fill","file":{"container":"mxf","codec":"mpeg2","profile":"422","depth":8,"chroma":"4:2:2","average_mbps":"50","highest_mbps":"50","keyframe_distance":12,"sound":{"coding":"pcm","rate":48000,"bits":24}}}"#,
        &[],
    ),
    (
        r#"{"name":"Upright story","geometry":{"raster":[1080,1920]},"rate":"30","safe_areas":["80"],"method":"fill","through":18}"#,
        &[(0, r#"{"own":{"method":"subject"}}"#)],
    ),
    (
        r#"{"name":"Portrait feed","geometry":{"raster":[1080,1350]},"rate":"30","method":"fill","through":22}"#,
        &[(0, r#"{"own":{"method":"fit"}}"#)],
    ),
    (
        r#"{"name":"Square","geometry":{"raster":[1080,1080]},"rate":"30","method":"fill","through":18}"#,
        &[(2, r#"{"own":{"method":"fill","zoom":"1.1","shift":["90","0"]}}"#)],
    ),
    (
        r#"{"name":"Headset sphere","note":"Equirectangular, one eye","geometry":{"raster":[3840,1920]},"rate":"30","projection":"sphere"}"#,
        &[],
    ),
];

/// What was accepted of the findings of a source, wherever it has them: its place in the list, the code, why.
const ACCEPTED: &[(usize, &str, &str)] = &[
    (4, "enlarged", "The tape is all there is"),
    (11, "enlarged", "The reel is all there is"),
    (16, "sphere_enlarged", "Sixteen pixels a degree are all the sphere has"),
    (17, "sphere_enlarged", "Sixteen pixels a degree are all the sphere has"),
];

fn read<T: Json>(text: &str) -> Result<T, String> {
    Reader::request(text.as_bytes()).map_err(|problem| format!("the demo project is not sound: {}", problem.detail))
}

/// The caption on the sphere; its picture is kept among the stills.
fn caption(stills: &Stills) -> Result<OnSphere, String> {
    let (_, words, place) = CAPTION;
    let (content, raster, _) = stills.keep(&ratiomet_handoff::caption(words)?)?;
    let still = StillFile { content, name: Note::new(words).unwrap_or_default(), raster };
    let width = FieldOfView::new(40_u32.into()).map_err(|error| error.to_string())?;
    Ok(OnSphere { still, width, orientation: read(place)? })
}

/// The whole project, read through the same door as anybody's; its stills are kept with the others.
pub fn kiln(stills: &Stills) -> Result<Project, String> {
    let mut project = Project::new(read(NAME)?);
    let mut numbers = 1..;
    for (place, (footage, number)) in FOOTAGE.iter().zip(numbers.by_ref()).enumerate() {
        let mut footage: Footage = read(footage)?;
        if place == CAPTION.0 {
            footage.on_sphere.push(caption(stills)?);
        }
        project.put_source(SourceId::new(number), Some(footage));
    }
    for ((frame, choices), number) in FRAMES.iter().zip(numbers.by_ref()) {
        let frame_id = FrameId::new(number);
        project.put_frame(frame_id, Some(read(frame)?));
        for (place, choice) in *choices {
            let source = project.sources().nth(*place).map(|(id, _)| id).ok_or("the demo has no such source")?;
            project.put_choice(Pair::new(source, frame_id), read::<Choice>(choice)?);
        }
    }
    for (view, number) in VIEWS.iter().zip(numbers) {
        project.put_source(SourceId::new(number), Some(read(view)?));
    }
    for (place, code, reason) in ACCEPTED {
        let source = project.sources().nth(*place).map(|(id, _)| id).ok_or("the demo has no such source")?;
        let pairs = project.frames().map(|(frame, _)| Pair::new(source, frame)).collect();
        let judged = Edit::JudgeFinding { pairs, code, reason: Name::new(reason) };
        let changes = project.apply(&judged).map_err(|error| format!("the demo project is not sound: {error}"))?;
        project = project.with(&changes);
    }
    Ok(project)
}
