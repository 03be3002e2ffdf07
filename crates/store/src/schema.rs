//! The tables, as Diesel knows them.

diesel::table! {
    meta (name) {
        name -> Text,
        value -> Text,
    }
}

diesel::table! {
    projects (id) {
        id -> Integer,
        demo -> Bool,
        changed_at -> BigInt,
        deleted_at -> Nullable<BigInt>,
        step_id -> Nullable<Integer>,
    }
}

diesel::table! {
    states (id) {
        id -> Integer,
        body -> Text,
        format -> Integer,
    }
}

diesel::table! {
    records (id) {
        id -> Integer,
        project_id -> Integer,
        kind -> Text,
        source_id -> Nullable<Integer>,
        frame_id -> Nullable<Integer>,
        version -> Integer,
        state_id -> Nullable<Integer>,
    }
}

diesel::table! {
    steps (id) {
        id -> Integer,
        project_id -> Integer,
        parent_id -> Nullable<Integer>,
        redo_id -> Nullable<Integer>,
        label -> Text,
        made_at -> BigInt,
        left_at -> Nullable<BigInt>,
        made_by -> Nullable<Text>,
        takes_back_id -> Nullable<Integer>,
    }
}

diesel::table! {
    changes (step_id, record_id) {
        step_id -> Integer,
        record_id -> Integer,
        before_id -> Nullable<Integer>,
        after_id -> Nullable<Integer>,
    }
}

diesel::table! {
    links (id) {
        id -> Integer,
        project_id -> Integer,
        name -> Text,
        sha256 -> Text,
        until -> BigInt,
        made_at -> BigInt,
        made_by -> Nullable<Text>,
    }
}

diesel::allow_tables_to_appear_in_same_query!(projects, states, records, steps, changes, links);
