//! The tables, as Diesel sees them.

diesel::table! {
    projects (id) {
        id -> Integer,
        version -> Integer,
        name -> Text,
        demo -> Bool,
        changed_at -> BigInt,
        deleted_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    sources (id) {
        id -> Integer,
        project_id -> Integer,
        version -> Integer,
        name -> Text,
        note -> Text,
        width -> Integer,
        height -> Integer,
        pixel_aspect -> Text,
        squeeze -> Text,
        inset_left -> Integer,
        inset_top -> Integer,
        inset_right -> Integer,
        inset_bottom -> Integer,
        rotation -> Integer,
        rate -> Nullable<Text>,
        scan -> Text,
        signal_range -> Text,
        deleted_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    frames (id) {
        id -> Integer,
        project_id -> Integer,
        version -> Integer,
        name -> Text,
        note -> Text,
        width -> Integer,
        height -> Integer,
        pixel_aspect -> Text,
        picture_ratio -> Nullable<Text>,
        step -> Integer,
        default_method -> Text,
        rate -> Nullable<Text>,
        scan -> Text,
        signal_range -> Text,
        deleted_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    conversions (source_id, frame_id) {
        source_id -> Integer,
        frame_id -> Integer,
        version -> Integer,
        method -> Nullable<Text>,
        zoom -> Text,
        shift_x -> Text,
        shift_y -> Text,
    }
}

diesel::joinable!(sources -> projects (project_id));
diesel::joinable!(frames -> projects (project_id));
diesel::joinable!(conversions -> sources (source_id));
diesel::joinable!(conversions -> frames (frame_id));
diesel::allow_tables_to_appear_in_same_query!(projects, sources, frames, conversions);
