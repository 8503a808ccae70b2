//! The household: its devices are let in on the kitchen's network, and nobody else is.

mod addresses;
mod certificate;
mod doors;
mod limits;
mod links;
pub mod passphrase;
mod qr;
mod role;
mod sessions;
mod sign_in;

pub use doors::{Doors, PORT, Share, Standing};
pub use role::{AtThisMachine, Baker, Door, Names, Visitor, admit, drawn_for, let_in};
pub use sessions::Sessions;
pub use sign_in::{Signs, out, pair, paired, post as signed_in, show as sign_in};

use actix_web::http::StatusCode;
use actix_web::http::header::{self, HeaderValue};
use actix_web::{HttpResponse, web};
use askama::Template;
use cerealis_store::{Device, DeviceId, Role, Setting, Store};
use jiff::tz::TimeZone;

use crate::error::{PageError, blocking, html_as, on_to};
use crate::household::Household;
use crate::posted::Posted;

/// A device as a row.
struct DeviceRow {
    id: i32,
    name: String,
    helper: bool,
    seen: String,
    /// Whether it is the one that looks.
    this: bool,
}

/// How the door stands, with its code where it is open.
struct DoorPart {
    on: bool,
    always: bool,
    says: String,
    links: Vec<String>,
    code: String,
    machine: String,
}

/// A link that was just made.
struct LinkPart {
    link: String,
    code: String,
    helper: bool,
}

#[derive(Template)]
#[template(path = "sharing/page.html")]
struct SharingPage {
    door: DoorPart,
    has_passphrase: bool,
    /// What was wrong with the passphrase that was given.
    fault: String,
    said: &'static str,
    devices: Vec<DeviceRow>,
    link: Option<LinkPart>,
}

#[derive(Template)]
#[template(path = "sharing/trust.html")]
struct TrustPage {
    machine: String,
    authority: String,
}

fn door_part(doors: &Doors, on: bool) -> DoorPart {
    let none = DoorPart {
        on,
        always: doors.share.always,
        says: String::new(),
        links: Vec::new(),
        code: String::new(),
        machine: String::new(),
    };
    match doors.standing() {
        Standing::Shut => none,
        Standing::NoPassphrase => DoorPart { says: "It is on once there is a passphrase.".into(), ..none },
        Standing::Failed(why) => DoorPart { says: format!("It could not be turned on: {why}."), ..none },
        Standing::Open(open) => DoorPart {
            code: open
                .links
                .first()
                .map_or(String::new(), |l| qr::picture(l, "A code that leads to this kitchen")),
            links: open.links,
            machine: open.machine,
            ..none
        },
    }
}

fn rows(devices: Vec<Device>, this: Option<DeviceId>, zone: &TimeZone) -> Vec<DeviceRow> {
    let row = |d: Device| DeviceRow {
        id: d.id.0,
        seen: d.seen_at.to_zoned_datetime(zone.clone()).strftime("%a %-d %b, %H:%M").to_string(),
        helper: d.role == Role::Helper,
        this: this == Some(d.id),
        name: d.name,
    };
    devices.into_iter().map(row).collect()
}

/// What a page of sharing is made from.
struct Shown {
    fault: String,
    said: &'static str,
    link: Option<(String, Role)>,
}

async fn page(
    store: web::Data<Store>,
    doors: &Doors,
    baker: &Baker,
    shown: Shown,
) -> Result<SharingPage, PageError> {
    let this = baker.device;
    let (on, has_passphrase, devices, home) = blocking(move || {
        let set = |setting| Ok::<_, PageError>(store.setting(setting)?.is_some());
        Ok((set(Setting::Sharing)?, set(Setting::Passphrase)?, store.devices()?, Household::load(&store)?))
    })
    .await?;
    let door = door_part(doors, on || doors.share.always);
    let link = shown.link.zip(door.links.first()).map(|((token, role), at)| {
        let link = format!("{at}/pair/{token}");
        LinkPart {
            code: qr::picture(&link, "A code that adds one device"),
            helper: role == Role::Helper,
            link,
        }
    });
    let devices = rows(devices, this, &home.zone());
    Ok(SharingPage { door, has_passphrase, fault: shown.fault, said: shown.said, devices, link })
}

/// The page.
pub async fn show(
    store: web::Data<Store>,
    doors: web::Data<Doors>,
    baker: Baker,
) -> Result<HttpResponse, PageError> {
    let shown = Shown { fault: String::new(), said: "", link: None };
    html_as(StatusCode::OK, &page(store, &doors, &baker, shown).await?)
}

/// How long a door may take to open or shut before its page is shown.
const OPENS_WITHIN: std::time::Duration = std::time::Duration::from_secs(3);

/// Waits until the door stands otherwise, or for as long as it may take.
async fn settled(doors: &Doors, before: &Standing) {
    let changed = async {
        while doors.standing() == *before {
            tokio::time::sleep(std::time::Duration::from_millis(20)).await;
        }
    };
    let _ = tokio::time::timeout(OPENS_WITHIN, changed).await;
}

/// What a button asks for.
enum Press {
    On,
    Off,
    Passphrase,
    Link(Role),
    Role(DeviceId, Role),
    Remove(DeviceId),
    RemoveOthers,
}

impl Press {
    fn from_key(key: &str) -> Option<Press> {
        let (word, rest) = key.split_once(':').unwrap_or((key, ""));
        let device = |n: &str| n.parse().ok().map(DeviceId);
        Some(match word {
            "on" => Press::On,
            "off" => Press::Off,
            "passphrase" => Press::Passphrase,
            "link" => Press::Link(Role::from_key(rest)?),
            "role" => {
                let (role, id) = rest.split_once(':')?;
                Press::Role(device(id)?, Role::from_key(role)?)
            }
            "remove" => Press::Remove(device(rest)?),
            "remove-others" => Press::RemoveOthers,
            _ => return None,
        })
    }
}

/// Does what a button asks for.
pub async fn post(
    store: web::Data<Store>,
    doors: web::Data<Doors>,
    baker: Baker,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let form = posted.0;
    let press = Press::from_key(form.value("op")).ok_or(PageError::UnknownButton)?;
    let before = doors.standing();
    let mut shown = Shown { fault: String::new(), said: "", link: None };
    let kept_in = store.clone();
    match press {
        Press::On | Press::Off => {
            let on = matches!(press, Press::On);
            blocking(move || Ok(kept_in.set(Setting::Sharing, on.then_some("on"))?)).await?;
            doors.changed();
            settled(&doors, &before).await;
        }
        Press::Passphrase => {
            let given = form.value("passphrase").to_owned();
            let kept = blocking(move || Ok(passphrase::kept(&given))).await?;
            match kept {
                Err(fault) => shown.fault = fault,
                Ok(kept) => {
                    let this = baker.device;
                    blocking(move || {
                        kept_in.set(Setting::Passphrase, Some(&kept))?;
                        // Who came in by the old one has to come again.
                        kept_in.remove_devices(this)?;
                        Ok(())
                    })
                    .await?;
                    shown.said = "The passphrase is set. Devices that came by an old one sign in again.";
                    doors.changed();
                    if before == Standing::NoPassphrase {
                        settled(&doors, &before).await;
                    }
                }
            }
        }
        Press::Link(role) => {
            shown.link = doors.links.make(role, store.clock.now()).map(|token| (token, role))
        }
        Press::Role(id, role) => blocking(move || Ok(kept_in.set_role(id, role)?)).await?,
        Press::Remove(id) => blocking(move || Ok(kept_in.remove_device(id)?)).await?,
        Press::RemoveOthers => {
            let this = baker.device;
            blocking(move || Ok(kept_in.remove_devices(this)?)).await?;
            shown.said = "All other devices are signed out.";
        }
    }
    // Whoever was signed out hears nothing more.
    doors.sign_out();
    // What is shown once, or was wrong, is on the answer itself; anything else is on the page.
    if shown.fault.is_empty() && shown.link.is_none() && shown.said.is_empty() {
        return Ok(on_to("/sharing".into()));
    }
    let status = if shown.fault.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    html_as(status, &page(store, &doors, &baker, shown).await?)
}

/// How strong a passphrase is, while it is typed.
pub async fn strength(_baker: Baker, posted: Posted) -> HttpResponse {
    let given = posted.0.value("passphrase");
    let word = if given.is_empty() { "" } else { passphrase::strength(given).word };
    HttpResponse::Ok().json(serde_json::json!({ "word": word }))
}

/// How a device comes to trust the kitchen.
pub async fn trust(doors: web::Data<Doors>) -> Result<HttpResponse, PageError> {
    let (machine, authority) = match doors.standing() {
        Standing::Open(open) => (open.machine, open.authority),
        _ => (String::new(), String::new()),
    };
    html_as(StatusCode::OK, &TrustPage { machine, authority })
}

/// The authority's certificate, as devices take it in.
pub async fn authority(doors: web::Data<Doors>) -> Result<HttpResponse, PageError> {
    let file = doors.share.folder.join("authority.pem");
    let text = blocking(move || std::fs::read_to_string(file).map_err(|_| PageError::NotFound)).await?;
    let mut response = HttpResponse::Ok().content_type("application/x-x509-ca-cert").body(text);
    let named = HeaderValue::from_static("attachment; filename=\"cerealis-kitchen.crt\"");
    response.headers_mut().insert(header::CONTENT_DISPOSITION, named);
    Ok(response)
}
