//! Lists as people paste them: every separator, spelling and accident, and what is made of each.

use proptest::prelude::*;
use ratiomet_exchange::list::{ListReading, ListRequest, ListRow, Role, RowState, neutral, sources_csv};
use ratiomet_wire::describe::Values;
use ratiomet_wire::read::Reader;
use serde_json::json;

/// How a text is understood.
#[track_caller]
fn read(text: &str) -> ListReading {
    let request = json!({ "text": text }).to_string();
    let list = Reader::request::<ListRequest>(request.as_bytes()).expect("a request");
    list.understand().expect("a list")
}

/// One row under these headings.
#[track_caller]
fn row(headings: &str, cells: &str) -> ListRow {
    let mut reading = read(&format!("{headings}\n{cells}\n"));
    assert_eq!(reading.rows.len(), 1, "{:?}", reading.rows);
    reading.rows.remove(0)
}

fn values(row: &ListRow) -> serde_json::Value {
    serde_json::to_value(&row.values).expect("JSON")
}

fn says(row: &ListRow) -> String {
    row.remarks.iter().map(|remark| remark.text.as_str()).collect::<Vec<_>>().join("; ")
}

/// A cell under a heading, beside a name and a size.
#[track_caller]
fn cell(heading: &str, text: &str, pointer: &str, expected: impl Into<serde_json::Value>, state: RowState) {
    let row = row(&format!("name\tsize\t{heading}"), &format!("A\t1920x1080\t{text}"));
    assert_eq!(row.state, state, "{heading} {text:?}: {}", says(&row));
    assert_eq!(values(&row).pointer(pointer), Some(&expected.into()), "{heading} {text:?}");
}

#[track_caller]
fn refused(heading: &str, text: &str, accepted: &str) {
    let row = row(&format!("name\tsize\t{heading}"), &format!("A\t1920x1080\t{text}"));
    assert_eq!(row.state, RowState::Bad, "{heading} {text:?} was taken: {:?}", row.values);
    assert!(row.values.is_none());
    assert!(says(&row).contains(accepted), "{heading} {text:?} says {:?}", says(&row));
    // The cell is still there to be mended.
    assert_eq!(row.cells[2], text.trim());
}

#[test]
fn sizes_are_read_in_every_common_spelling() {
    for text in [
        "3840x2160",
        "3840×2160",
        "3840 2160",
        "3840 x 2160",
        "3840X2160",
        "3840*2160",
        "3840 by 2160",
        "3840x2160p",
        "3,840 x 2,160",
        "3840x2160 (UHD)",
        "3840/2160",
    ] {
        let row = row("name\tsize", &format!("A\t{text}"));
        assert_eq!(row.state, RowState::Good, "{text}: {}", says(&row));
        assert_eq!(values(&row)["geometry"]["raster"], json!([3840, 2160]), "{text}");
    }
    for text in [
        "3840",
        "x2160",
        "0x100",
        "70000x2160",
        "3840x",
        "thousand",
        "3840x2160x3",
        "-3840x2160",
        "3840.5x2160",
        "1e3x100",
    ] {
        let row = row("name\tsize", &format!("A\t{text}"));
        assert_eq!(row.state, RowState::Bad, "{text} was taken: {:?}", row.values);
        assert!(says(&row).contains("a size such as 3840x2160"), "{text}: {}", says(&row));
    }
    // A name for a size is told, and a loose one is a doubt.
    assert_eq!(row("name\tsize", "A\t1080p").state, RowState::Good);
    assert_eq!(row("name\tsize", "A\t4K").state, RowState::Doubtful);
    assert_eq!(values(&row("name\twidth\theight", "A\t2880\t2160"))["geometry"]["raster"], json!([2880, 2160]));
    assert!(says(&row("name\twidth\theight", "A\t2880\t")).contains("this row has none"));
}

#[test]
fn a_squeeze_is_read_as_a_factor_or_a_ratio() {
    let at = "/geometry/squeeze";
    for (text, expected) in [
        ("1.8", "1.8"),
        ("1.8x", "1.8"),
        ("x1.8", "1.8"),
        ("1.8×", "1.8"),
        ("9:5", "9:5"),
        ("9/5", "9/5"),
        ("2", "2"),
        ("none", "1"),
        ("1.33x anamorphic", "1.33"),
        ("", "1"),
    ] {
        cell("squeeze", text, at, expected, RowState::Good);
    }
    cell("squeeze", "1,8", at, "1.8", RowState::Doubtful);
    for text in ["20", "0", "-2", "two", "1.8.1", "2:0", "NaN"] {
        refused("squeeze", text, "");
    }
    refused("squeeze", "20", "a squeeze from 1/10 to 10");
}

#[test]
fn a_sphere_and_a_stated_turn_are_known_as_such() {
    for text in ["sphere", "Spherical", "360", "360°", "equirectangular", "VR", "yes"] {
        cell("projection", text, "/projection", "sphere", RowState::Good);
    }
    cell("360", "no", "/projection", "flat", RowState::Good);
    refused("projection", "round", "flat or sphere");
    let form = |span: [&str; 2], layout: &str, eyes: &str| json!({ "span": span, "layout": layout, "eyes": eyes });
    for (text, expected) in [
        ("sphere", form(["360", "180"], "mono", "left_first")),
        ("sphere top_bottom", form(["360", "180"], "top_bottom", "left_first")),
        ("360 180x180 side_by_side right_first", form(["180", "180"], "side_by_side", "right_first")),
    ] {
        cell("projection", text, "/sphere", expected, RowState::Good);
    }
    refused("projection", "sphere sideways", "180x180, top_bottom, side_by_side or right_first");
    refused("projection", "sphere 400x180", "flat or sphere");
    // A turn that is stated settles which way up the clip is; that there is none is what lists say of anything.
    cell("rotation", "90", "/upright_known", true, RowState::Good);
    cell("rotation", "180", "/upright_known", true, RowState::Good);
    cell("rotation", "0", "/upright_known", false, RowState::Good);
    cell("note", "by hand", "/upright_known", false, RowState::Good);
}

#[test]
fn rates_are_the_exact_ones_and_the_reading_says_so() {
    for (text, expected, state, note) in [
        ("23.98", "23.98", RowState::Good, "23.98 means exactly 24000/1001"),
        ("23.976", "23.976", RowState::Good, "23.976 means exactly 24000/1001"),
        ("23.976 fps", "23.976", RowState::Good, "means exactly 24000/1001"),
        ("24000/1001", "24000/1001", RowState::Good, ""),
        ("29.97df", "29.97", RowState::Good, "29.97 means exactly 30000/1001; df is its timecode only"),
        ("29.97 NDF", "29.97", RowState::Good, "means exactly 30000/1001"),
        ("59.94p", "59.94", RowState::Good, "means exactly 60000/1001"),
        ("25", "25", RowState::Good, ""),
        ("25.00", "25.00", RowState::Good, ""),
        ("23,976", "23.976", RowState::Doubtful, "decimal comma"),
        ("50i", "25", RowState::Doubtful, "25 fps of two fields each"),
        ("59.94i", "30000/1001", RowState::Doubtful, "30000/1001 fps of two fields each"),
        ("1", "1", RowState::Doubtful, "unusual"),
    ] {
        let row = row("name\tsize\tfps", &format!("A\t1920x1080\t{text}"));
        assert_eq!(row.state, state, "{text}: {}", says(&row));
        assert_eq!(values(&row)["rate"], expected, "{text}");
        assert!(says(&row).contains(note), "{text} says {:?}", says(&row));
    }
    // Fields say that it is interlaced.
    assert_eq!(values(&row("name\tsize\tfps", "A\t1920x1080\t25i"))["scan"], "interlaced");
    for text in ["fast", "0", "24/0", "2000", "-25", "24+"] {
        refused("fps", text, "");
    }
}

#[test]
fn the_other_columns_have_their_spellings() {
    for (text, expected) in [
        ("p", "progressive"),
        ("Interlaced", "interlaced"),
        ("upper first", "interlaced"),
        ("TFF", "interlaced"),
        ("none", "progressive"),
    ] {
        cell("field order", text, "/scan", expected, RowState::Good);
    }
    refused("scan", "both", "progressive or interlaced");
    for (text, expected) in [("full", "full"), ("0-255", "full"), ("legal", "narrow"), ("Limited", "narrow")] {
        cell("levels", text, "/signal_range", expected, RowState::Good);
    }
    refused("levels", "wide", "narrow (legal, video) or full (data)");
    for (text, degrees) in [("90", 90), ("90°", 90), ("CW", 90), ("ccw", 270), ("180 deg", 180), ("none", 0)] {
        cell("rotation", text, "/geometry/rotation", degrees, RowState::Good);
    }
    cell("rotation", "-90", "/geometry/rotation", 270, RowState::Doubtful);
    refused("rotation", "45", "0, 90, 180 or 270");
    cell("PAR", "12:11", "/geometry/pixel_aspect", "12:11", RowState::Good);
    cell("PAR", "square", "/geometry/pixel_aspect", "1", RowState::Good);
    // Close to an exact shape of the standard, but not it.
    cell("PAR", "1.0909", "/geometry/pixel_aspect", "1.0909", RowState::Doubtful);
    refused("PAR", "0", "a pixel aspect from 1/10 to 10");
    let insets = json!({ "left": 8, "top": 4, "right": 10, "bottom": 6 });
    cell("border", "8/4/10/6", "/geometry/active", insets.clone(), RowState::Good);
    cell("border", "8 4 10 6", "/geometry/active", insets, RowState::Good);
    refused("border", "8/4/10", "left/top/right/bottom");
    let row = row("name\tsize\tleft\ttop", "A\t1920x1080\t16\t9");
    assert_eq!(values(&row)["geometry"]["active"], json!({ "left": 16, "top": 9, "right": 0, "bottom": 0 }));
    // Each by itself is sound, together they leave nothing.
    refused("border", "960/0/960/0", "insets that leave at least 2");
    let subject = json!({ "x": "0.25", "y": "0.1", "width": "1/5", "height": "0.5" });
    cell("subject", "0.25 0.1 1/5 0.5", "/subject", subject.clone(), RowState::Good);
    cell("subject", "0.25;0.1;1/5;0.5", "/subject", subject, RowState::Good);
    refused("subject", "0.25 0.1 0.2", "four numbers from 0 to 1");
    refused("subject", "0.9 0.1 0.2 0.5", "a box inside the picture");
}

#[test]
fn headings_stand_in_any_order_and_case() {
    let reading =
        read("FPS,Comments,Clip Name,Lens Squeeze,Resolution,Colour\n25,\"one, two\",A001,2x,2880x2160,red\n");
    assert!(reading.headed);
    let roles: Vec<_> = reading.columns.iter().map(|column| column.role.as_ref().map(|role| role.0)).collect();
    assert_eq!(
        roles,
        [Some(Role::Rate), Some(Role::Note), Some(Role::Name), Some(Role::Squeeze), Some(Role::Size), None]
    );
    let row = &reading.rows[0];
    assert_eq!((row.line, row.state), (2, RowState::Good));
    assert_eq!(values(row)["note"], "one, two");
    assert_eq!(values(row)["name"], "A001");
    // A heading that comes twice counts once.
    let twice = read("name\tname\tsize\nA\tB\t16x9\n");
    assert!(twice.columns[1].role.is_none());
    assert_eq!(values(&twice.rows[0])["name"], "A");
}

/// The roles of the columns of a list.
fn roles(reading: &ListReading) -> Vec<Option<Role>> {
    reading.columns.iter().map(|column| column.role.as_ref().map(|role| role.0)).collect()
}

fn remarks(reading: &ListReading) -> String {
    reading.remarks.join(" ")
}

#[test]
fn headings_are_found_below_titles_and_in_logs_with_parts() {
    // A spreadsheet with titles.
    let sheet = "Saltreed,,\nDay 3 / 14 May,,\n,,\nClip,Resolution,fps\nA014,2880x2160,24\nA015,2880x2160,24\n";
    let reading = read(sheet);
    assert_eq!((reading.good, reading.bad, reading.passed_over), (2, 0, 2), "{reading:?}");
    assert_eq!(reading.rows[0].line, 5);
    assert!(
        remarks(&reading).contains("2 rows were skipped above the headings: Saltreed; Day 3 / 14 May"),
        "{reading:?}"
    );
    // A log of tabs with a head and parts: what stands in the head is taken for every clip.
    let log = "Heading\nFIELD_DELIM\tTABS\nVIDEO_FORMAT\t1080\nFPS\t23.976\n\nColumn\nName\tTape\tImage Size\tStart\n\nData\n\
               A014\tR1\t2880x2160\t01:00:00:00\nB003\tR2\t4608x3164\t02:00:00:00\n";
    let reading = read(log);
    assert_eq!((reading.good, reading.doubtful, reading.bad), (2, 0, 0), "{reading:?}");
    assert_eq!(values(&reading.rows[1])["rate"], "23.976");
    assert_eq!(values(&reading.rows[1])["name"], "B003");
    assert!(remarks(&reading).contains("FPS 23.976, above the headings, applies to every row"), "{reading:?}");
    // A camera report: keys and values, then the table, its headings again on the second page.
    let report = "Production: The Kiln;;\nCamera: A;Lens squeeze: 2x;\nClip;Size;Notes\nA1;2880x2160;\nA2;2880x2160;soft\n\
                  Clip;Size;Notes\nA3;1920x1080;\nTotal;;\n";
    let reading = read(report);
    assert_eq!((reading.rows.len(), reading.bad), (3, 0), "{reading:?}");
    assert_eq!(values(&reading.rows[2])["geometry"]["squeeze"], "2x".trim_end_matches('x'));
    // Parts with other headings each.
    let parts = "Day 1\t\t\nName\tSize\tfps\nA1\t1920x1080\t25\nDay 2\t\t\nfps\tName\tSize\n24\tB1\t3840x2160\n";
    let reading = read(parts);
    assert_eq!(reading.rows.len(), 2, "{reading:?}");
    assert_eq!(values(&reading.rows[1])["name"], "B1");
    assert_eq!(values(&reading.rows[1])["rate"], "24");
    // Merged cells: one heading over width and height stands above the first of them.
    let merged = "Camera;Stored;;fps\n;W;H;\nA1;2880;2160;24\n";
    let reading = read(merged);
    assert_eq!(values(&reading.rows[0])["geometry"]["raster"], json!([2880, 2160]), "{reading:?}");
    assert_eq!(
        (values(&reading.rows[0])["name"].clone(), values(&reading.rows[0])["rate"].clone()),
        (json!("A1"), json!("24"))
    );
}

#[test]
fn the_surest_heading_wins_and_its_cells_must_bear_it_out() {
    let reading = read(
        "Camera\tClip Name\tFormat\tResolution\tDelivery size\tLens\tFocal length\n\
         A\tA014\tOpen gate\t2880x2160\t3840x2160\t40mm\t40\n",
    );
    assert_eq!(roles(&reading), [None, Some(Role::Name), None, Some(Role::Size), None, None, None], "{reading:?}");
    assert_eq!(values(&reading.rows[0])["geometry"]["squeeze"], "1");
    assert!(
        remarks(&reading).contains("Unused columns: Camera, Format, Delivery size, Lens, Focal length."),
        "{reading:?}"
    );
    // The column that says "open gate" may matter.
    assert_eq!(reading.rows[0].state, RowState::Doubtful);
    assert!(says(&reading.rows[0]).contains("Unused column Format: Open gate."), "{}", says(&reading.rows[0]));
    let reading = read("Scene\tShot\tShot size\tFormat\n1\tA\tMCU\t1920x1080\n");
    assert_eq!(roles(&reading), [None, Some(Role::Name), None, Some(Role::Size)], "{reading:?}");
    assert_eq!(roles(&read("Clip\tShot size\tDelivery size\nA\t4608x3164\t3840x2160\n"))[1], Some(Role::Size));
    assert_eq!(roles(&read("Clip\tSize\tLens\nA\t2880x2160\t2x\n"))[2], Some(Role::Squeeze));
    // What has nothing to do with the picture leaves a row good.
    let reading = read("Clip\tSize\tAudio sample rate\tTimecode\nA\t1920x1080\t48000\t01:00:00:00\n");
    assert_eq!(reading.rows[0].state, RowState::Good, "{}", says(&reading.rows[0]));
}

#[test]
fn headings_and_values_are_understood_in_five_languages() {
    for text in [
        "Dateiname;Auflösung;Bildrate;Abtastung;Signalbereich;Entzerrung\nA;2880x2160;23,976;Halbbilder;voll;2",
        "Nom du clip;Résolution;Cadence;Trames;Plage;Anamorphose\nA;2 880 x 2 160;23,976 im/s;entrelacé;étendue;2x",
        "Nombre del clip;Resolución;Fotogramas por segundo;Barrido;Rango de señal;Factor anamórfico\nA;2880×2160;23.976;entrelazado;completo;2",
        "Nome clip;Risoluzione;Frequenza fotogrammi;Scansione;Livelli;Fattore anamorfico\nA;2.880x2.160;23.976;interlacciato;pieno;2",
        "Clip;Resolution;fps;Scan;Levels;Squeeze\nA;2880.0x2160.0;23.976;UFF;Full Range;2",
    ] {
        let reading = read(text);
        let row = values(&reading.rows[0]);
        assert_eq!(row["geometry"]["raster"], json!([2880, 2160]), "{text}: {}", says(&reading.rows[0]));
        assert_eq!((&row["rate"], &row["scan"]), (&json!("23.976"), &json!("interlaced")), "{text}");
        assert_eq!((&row["signal_range"], &row["geometry"]["squeeze"]), (&json!("full"), &json!("2")), "{text}");
    }
}

#[test]
fn sizes_by_name_with_scan_and_rate_behind_them() {
    for (text, size, rate, scan) in [
        ("4K UHD", [3840, 2160], json!(null), json!(null)),
        ("UHD 4K", [3840, 2160], json!(null), json!(null)),
        ("DCI 4K", [4096, 2160], json!(null), json!(null)),
        ("4K DCI", [4096, 2160], json!(null), json!(null)),
        ("1080i50", [1920, 1080], json!("25"), json!("interlaced")),
        ("1080i25", [1920, 1080], json!("25"), json!("interlaced")),
        ("1080p25", [1920, 1080], json!("25"), json!(null)),
        ("3840x2160p25", [3840, 2160], json!("25"), json!(null)),
        ("3840x2160p59.94", [3840, 2160], json!("59.94"), json!(null)),
        ("1920x1080i", [1920, 1080], json!(null), json!("interlaced")),
        ("3840.0 x 2160.0", [3840, 2160], json!(null), json!(null)),
        ("1\u{202f}920 x 1\u{a0}080", [1920, 1080], json!(null), json!(null)),
        ("1\u{2009}920x1\u{2009}080", [1920, 1080], json!(null), json!(null)),
    ] {
        let row = row("name\tsize", &format!("A\t{text}"));
        assert_ne!(row.state, RowState::Bad, "{text}: {}", says(&row));
        let values = values(&row);
        assert_eq!(values["geometry"]["raster"], json!(size), "{text}");
        assert_eq!((&values["rate"], &values["scan"]), (&rate, &scan), "{text}");
    }
    assert_eq!(values(&row("name\twidth\theight", "A\t3840.0\t2160,0"))["geometry"]["raster"], json!([3840, 2160]));
    for (text, range) in [("Full Range", "full"), ("64-940", "narrow"), ("0-1023", "full"), ("video levels", "narrow")]
    {
        cell("range", text, "/signal_range", range, RowState::Good);
    }
    for text in ["UFF", "upper field first", "Bottom field first", "LFF"] {
        cell("scan", text, "/scan", "interlaced", RowState::Good);
    }
}

#[test]
fn without_headings_the_cells_say_what_they_are() {
    let reading = read("A001\t3840x2160\t25\nA002\t1920x1080\t24\n");
    assert!(!reading.headed);
    assert_eq!(reading.rows.len(), 2, "the first row is a source too");
    assert_eq!(reading.good, 2);
    assert_eq!(values(&reading.rows[0])["rate"], "25");
    assert!(reading.remarks[0].contains("no known headings"), "{:?}", reading.remarks);
    let reading = read("A001\t3840\t2160\n");
    assert_eq!(values(&reading.rows[0])["geometry"]["raster"], json!([3840, 2160]));
}

#[test]
fn marks_line_ends_and_separators_of_every_kind_are_read_alike() {
    let plain = "name;size;squeeze\nA;2880x2160;2\nB;1920x1080;\n";
    let expected = serde_json::to_value(&read(plain).rows).expect("JSON");
    for text in [
        format!("\u{feff}{plain}"),
        plain.replace('\n', "\r\n"),
        plain.replace('\n', "\r"),
        plain.replace(';', "\t"),
        plain.replace(';', ","),
        plain.replace(';', " | "),
        plain.trim_end().to_owned(),
        format!("{plain}\n;;\n"),
        "\"name\";\"size\";\"squeeze\"\n\"A\";\"2880x2160\";\"2\"\n\"B\";\"1920x1080\";\"\"\n".to_owned(),
        plain.replace(';', " ; "),
        plain.replace("2880x2160", "\u{a0}2880x2160"),
        // More of a different separator of its own, in cells.
        "name,size,squeeze,note\nA,2880x2160,2,\"a; b; c\"\nB,1920x1080,,\"d; e; f\"\n".to_owned(),
        "name,size,squeeze,note\nA,2880x2160,2,a; b; c\nB,1920x1080,,d; e; f\n".to_owned(),
    ] {
        let reading = read(&text);
        assert_eq!((reading.good, reading.bad), (2, 0), "{text:?}");
        let found = serde_json::to_value(&reading.rows).expect("JSON");
        for at in 0..2 {
            for field in ["name", "geometry"] {
                assert_eq!(found[at]["values"][field], expected[at]["values"][field], "{text:?}");
            }
        }
    }
}

#[test]
fn stray_quotation_marks_swallow_no_rows() {
    let reading = read("name\tsize\nA \"one\tfoot\"\t16x9\n\"B\t1920x1080\nC\t1920x1080\nD\t1280x720\n");
    let names: Vec<_> = reading.rows.iter().map(|row| row.cells[0].as_str()).collect();
    assert!(names.contains(&"C") && names.contains(&"D"), "{names:?}");
    assert!(names.iter().any(|name| name.starts_with('B')), "{names:?}");
    // A quoted cell of two lines is one cell.
    let reading = read("name,size,note\n\"A\",16x9,\"first\nsecond\"\nB,16x9,\n");
    assert_eq!(reading.rows.len(), 2);
    assert_eq!(reading.rows[0].cells[2], "first second");
    assert_eq!(reading.rows[1].line, 4);
}

#[test]
fn rows_with_another_separator_are_split_by_their_own() {
    let reading = read("name;size;fps\nA;1920x1080;25\nB,1920x1080,25\nC\t1920x1080\t25\nD;1920x1080;25\n");
    assert_eq!((reading.good, reading.bad), (4, 0), "{:?}", reading.rows);
    assert!(reading.remarks.iter().any(|remark| remark.contains("2 rows use a different separator")));
}

#[test]
fn a_formula_is_never_run_and_never_a_value() {
    let found = row("name\tsize\tnote", "A\t1920x1080\t=HYPERLINK(\"x\")");
    assert_eq!(found.state, RowState::Doubtful);
    assert!(says(&found).contains("formula"));
    assert_eq!(values(&found)["note"], "=HYPERLINK(\"x\")");
    refused("squeeze", "=1+1", "this is a formula");
    refused("fps", "@rate", "this is a formula");
    // What our own lists protect comes back without the mark.
    assert_eq!(values(&row("name\tsize\tnote", "A\t16x9\t'=1+1"))["note"], "=1+1");
}

#[test]
fn long_lists_and_long_cells_are_refused_in_words() {
    let long = "x".repeat(10 << 20);
    let found = row("name\tsize\tnote", &format!("A\t16x9\t{long}"));
    assert_eq!(found.state, RowState::Bad);
    assert!(says(&found).contains("a cell of at most 1000 characters; this one has 10485760"));
    assert!(found.cells[2].len() < 300, "the answer does not carry the whole cell");
    let many = format!("name\tsize\n{}", "A\t16x9\n".repeat(20_001));
    let list = Reader::request::<ListRequest>(json!({ "text": many }).to_string().as_bytes()).expect("a request");
    assert!(list.understand().expect_err("too long").contains("at most 20000 rows"));
    let wide = "a\t".repeat(300);
    let list = Reader::request::<ListRequest>(json!({ "text": wide }).to_string().as_bytes()).expect("a request");
    assert!(list.understand().expect_err("too wide").contains("at most 200 columns"));
}

#[test]
fn twins_are_pointed_out_and_empty_lists_are_empty() {
    let reading = read("name\tsize\nA\t16x9\nB\t16x9\nA\t32x18\n");
    assert_eq!(reading.rows.iter().filter(|row| row.state == RowState::Doubtful).count(), 1, "{:?}", reading.rows);
    for text in ["", " ", "\n\n", "\u{feff}", "name\tsize\n"] {
        assert_eq!(read(text).rows.len(), 0, "{text:?}");
    }
}

#[test]
fn rows_are_read_again_by_what_their_columns_are_said_to_hold() {
    let request = json!({ "columns": ["size", null, "name"], "rows": [{ "line": 7, "cells": ["16x9", "junk", "A"] }, { "line": 9, "cells": ["16x9"] }] });
    let list = Reader::request::<ListRequest>(request.to_string().as_bytes()).expect("a request");
    let reading = list.understand().expect("a list");
    assert_eq!((reading.rows[0].line, reading.rows[0].state), (7, RowState::Good));
    assert_eq!(reading.rows[1].state, RowState::Bad);
    for bad in [
        json!({}),
        json!({ "text": "a", "rows": [] }),
        json!({ "columns": [] }),
        json!({ "columns": ["colour"], "rows": [] }),
        json!({ "text": 5 }),
        json!({ "text": "a", "more": 1 }),
    ] {
        assert_eq!(
            Reader::request::<ListRequest>(bad.to_string().as_bytes()).expect_err("refused").status,
            422,
            "{bad}"
        );
    }
}

#[test]
fn what_a_spreadsheet_would_run_is_made_harmless_and_numbers_are_not_touched() {
    for harmless in ["", "A001", "-12.5", "+7", "-3", "0", "3840x2160", "2.39:1", "a=b", "x-y", "'quoted'", "1-2"] {
        assert_eq!(neutral(harmless), harmless);
    }
    for run in ["=1", "+1+2", "-A1", "@SUM(1)", "\t=1", "\r=1", "-1.2.3", "--1", "-", "=", "+", "-1e5", "\n=1", "'=1"] {
        assert_eq!(neutral(run), format!("'{run}"));
    }
}

proptest! {
    /// Whatever is pasted: nothing crashes, and no row that holds anything is dropped.
    #[test]
    fn any_text_is_read(text in "[a-zA-Z0-9x×;,|\t\" =@'.:/-]{0,40}(\n|\r\n)?[0-9x;,|\t\" ]{0,30}(\n[a-z0-9;,\t\"x]{0,20}){0,6}") {
        let reading = read(&text);
        prop_assert_eq!(reading.rows.len(), reading.good + reading.doubtful + reading.bad);
        for row in &reading.rows {
            prop_assert_eq!(row.values.is_none(), row.state == RowState::Bad);
            prop_assert_eq!(row.cells.len(), reading.columns.len());
            if row.state == RowState::Bad {
                prop_assert!(row.remarks.iter().any(|remark| remark.state == RowState::Bad && !remark.text.is_empty()));
            }
        }
        if !text.contains('"') {
            let held = |line: &&str| line.chars().any(|c| !c.is_whitespace() && !";,|\t\"'".contains(c));
            let lines = text.split(['\n', '\r']).filter(held).count();
            prop_assert!(reading.rows.len() + reading.passed_over + usize::from(reading.headed) >= lines, "{} rows of {lines} lines", reading.rows.len());
        }
    }

    #[test]
    fn neutral_cells_come_back_as_they_were(cell in "[=+@'a-z0-9. -]{0,12}") {
        let written = neutral(&cell);
        let runs = |text: &str| text.starts_with(['=', '+', '-', '@']) && text.trim_start_matches(['-', '+']).parse::<f64>().is_err();
        prop_assert!(!runs(&written), "{written:?}");
        let back = written.strip_prefix('\'').filter(|rest| rest.starts_with(['=', '+', '-', '@', '\''])).unwrap_or(&written);
        prop_assert_eq!(back, cell);
    }

    /// A list that was saved reads back as the same sources.
    #[test]
    fn saved_lists_are_read_back(contents in crate::documents::contents()) {
        let csv = sources_csv(contents.sources().map(|(_, footage)| footage));
        let reading = read(&csv);
        prop_assert_eq!(reading.bad, 0, "{:?}", reading.rows);
        prop_assert_eq!(reading.rows.len(), contents.sources().len());
        for (row, (_, footage)) in reading.rows.iter().zip(contents.sources()) {
            let Values(read) = row.values.as_ref().expect("understood");
            prop_assert_eq!(&read.geometry, &footage.geometry);
            prop_assert_eq!(read.rate.as_ref().map(|rate| rate.value()), footage.rate.as_ref().map(|rate| rate.value()));
            prop_assert_eq!((read.scan, read.signal_range), (footage.scan, footage.signal_range));
            prop_assert_eq!((read.projection, &read.sphere), (footage.projection, &footage.sphere));
            prop_assert_eq!(read.name.as_str(), footage.name.as_str());
        }
    }
}
