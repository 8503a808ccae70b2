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
