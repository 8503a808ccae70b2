diesel::table! {
    cupboards (id) {
        id -> Integer,
        body -> Text,
        revision -> Integer,
        schema -> Integer,
    }
}

diesel::table! {
    day_plans (id) {
        id -> Integer,
        body -> Text,
        revision -> Integer,
        schema -> Integer,
    }
}

diesel::table! {
    doughs (id) {
        id -> Integer,
        formula_id -> Integer,
        body -> Text,
        revision -> Integer,
        ended_at -> Nullable<Text>,
        schema -> Integer,
    }
}

diesel::table! {
    formulas (id) {
        id -> Integer,
        body -> Text,
        revision -> Integer,
        updated_at -> Text,
        deleted_at -> Nullable<Text>,
        archived_at -> Nullable<Text>,
        schema -> Integer,
    }
}

diesel::table! {
    kitchens (id) {
        id -> Integer,
        body -> Text,
        revision -> Integer,
        schema -> Integer,
    }
}

diesel::table! {
    set_aside (id) {
        id -> Integer,
        kind -> Text,
        name -> Text,
        body -> Binary,
        set_aside_at -> Text,
    }
}

diesel::table! {
    settings (key) {
        key -> Text,
        value -> Text,
    }
}

diesel::table! {
    versions (id) {
        id -> Integer,
        formula_id -> Integer,
        revision -> Integer,
        body -> Text,
        reason -> Text,
        saved_at -> Text,
        schema -> Integer,
    }
}

diesel::table! {
    devices (id) {
        id -> Integer,
        name -> Text,
        role -> Text,
        added_at -> Text,
        seen_at -> Text,
    }
}

diesel::table! {
    sessions (key_hash) {
        key_hash -> Text,
        device_id -> Integer,
        body -> Text,
        ends_at -> Text,
    }
}

diesel::allow_tables_to_appear_in_same_query!(devices, sessions);

diesel::table! {
    bin (id) {
        id -> Integer,
        body -> Text,
        schema -> Integer,
        deleted_at -> Text,
    }
}

diesel::table! {
    bakes (id) {
        id -> Integer,
        formula_id -> Nullable<Integer>,
        name -> Text,
        body -> Text,
        schema -> Integer,
        begun_at -> Text,
        ended_at -> Nullable<Text>,
    }
}

diesel::table! {
    bake_events (seq) {
        seq -> BigInt,
        bake_id -> Integer,
        key -> Text,
        said_at -> Text,
        body -> Text,
    }
}

diesel::allow_tables_to_appear_in_same_query!(bakes, bake_events);

diesel::table! {
    photos (name) {
        name -> Text,
        bytes -> Binary,
        taken_in -> Text,
    }
}
