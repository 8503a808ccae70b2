diesel::table! {
    cupboards (id) {
        id -> Integer,
        body -> Text,
        revision -> Integer,
    }
}

diesel::table! {
    doughs (id) {
        id -> Integer,
        formula_id -> Integer,
        body -> Text,
        revision -> Integer,
        ended_at -> Nullable<Text>,
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
    }
}

diesel::table! {
    kitchens (id) {
        id -> Integer,
        body -> Text,
        revision -> Integer,
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
    }
}
