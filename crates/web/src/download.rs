//! Files that a page hands out.

use actix_web::HttpResponse;
use actix_web::http::header::{
    self, Charset, ContentDisposition, DispositionParam, DispositionType, ExtendedValue,
};

/// A file to be kept, by its whole name (RFC 6266), with a plain one for old programs.
pub fn as_file(name: &str, ending: &str, media: &str, body: impl Into<Vec<u8>>) -> HttpResponse {
    let plain = |c: char| if c.is_ascii_alphanumeric() { c.to_ascii_lowercase() } else { '-' };
    let said: String =
        name.chars().map(|c| if "/\\:*?\"<>|".contains(c) || c.is_control() { '-' } else { c }).collect();
    let file = ContentDisposition {
        disposition: DispositionType::Attachment,
        parameters: vec![
            DispositionParam::Filename(format!("{}.{ending}", name.chars().map(plain).collect::<String>())),
            DispositionParam::FilenameExt(ExtendedValue {
                charset: Charset::Ext("UTF-8".into()),
                language_tag: None,
                value: format!("{said}.{ending}").into_bytes(),
            }),
        ],
    };
    HttpResponse::Ok()
        .insert_header((header::CONTENT_TYPE, media))
        .insert_header((header::CONTENT_DISPOSITION, file.to_string()))
        .body(body.into())
}
