//! Coming in by the household's door: by the passphrase, or by a link that is good once; and going out.

use actix_session::Session;
use actix_web::cookie::time::Duration as CookieDuration;
use actix_web::cookie::{Cookie, CookieJar, Key, SameSite};
use actix_web::http::StatusCode;
use actix_web::http::header::{self, HeaderValue};
use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use cerealis_store::{Role, Setting, Store};
use serde::Deserialize;
use url::Url;

use super::doors::Doors;
use super::passphrase;
use super::role::{Door, Visitor};
use super::sessions::DEVICE;
use crate::error::{PageError, blocking, html_as, on_to};
use crate::posted::Posted;

/// The longest name of a device, in characters.
const NAME_MAX: usize = 40;

/// Where to go on to.
#[derive(Deserialize)]
pub struct Query {
    #[serde(default)]
    to: String,
}

/// Coming in by the passphrase.
#[derive(Template)]
#[template(path = "sharing/sign_in.html")]
struct SignInPage {
    name: String,
    to: String,
    fault: String,
}

/// Coming in by a link.
#[derive(Template)]
#[template(path = "sharing/pair.html")]
struct PairPage {
    name: String,
    fault: String,
}

/// A page of ours to go on to: never another's. A browser drops tabs and line ends from an address, and takes `\` for
/// `/`, before it looks where the address leads; so the address is read as a browser reads it, and what leads
/// elsewhere is not ours.
fn onward(to: &str) -> String {
    let first = || "/".to_owned();
    let Ok(here) = Url::parse("https://kitchen.invalid/") else { return first() };
    match here.join(to) {
        Ok(there) if there.origin() == here.origin() && !there.path().starts_with("/sign-in") => {
            let query = there.query().map_or(String::new(), |q| format!("?{q}"));
            let path = there.path();
            // A path of two slashes is a host where it stands alone.
            if path.starts_with("//") { first() } else { format!("{path}{query}") }
        }
        _ => first(),
    }
}

/// The page.
pub async fn show(door: web::Data<Door>, query: web::Query<Query>) -> Result<HttpResponse, PageError> {
    // Who sits at this machine is in already.
    if matches!(door.get_ref(), Door::Here) {
        return Ok(on_to("/".into()));
    }
    html_as(StatusCode::OK, &SignInPage { name: String::new(), to: onward(&query.to), fault: String::new() })
}

fn held_up(wait: std::time::Duration) -> (StatusCode, String, u64) {
    let seconds = wait.as_secs() + 1;
    let text = format!("That was tried too often. Wait {seconds} seconds, then try again.");
    (StatusCode::TOO_MANY_REQUESTS, text, seconds)
}

/// Looks at a passphrase, and lets the device in.
pub async fn post(
    request: HttpRequest,
    door: web::Data<Door>,
    store: web::Data<Store>,
    doors: web::Data<Doors>,
    session: Session,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    if matches!(door.get_ref(), Door::Here) {
        return Ok(on_to("/".into()));
    }
    let form = posted.0;
    let (name, to) = (form.value("name").trim().to_owned(), onward(form.value("to")));
    let refused = |status: StatusCode, fault: String| {
        html_as(status, &SignInPage { name: name.clone(), to: to.clone(), fault })
    };
    if let Some(fault) = name_fault(&name) {
        return refused(StatusCode::UNPROCESSABLE_ENTITY, fault);
    }
    let known = known_device(&request);
    let may = match (&known, request.peer_addr()) {
        (Some(device), _) => doors.limits.try_known(device),
        (None, Some(from)) => doors.limits.try_once(from.ip()),
        (None, None) => Ok(()),
    };
    if let Err(wait) = may {
        let (status, text, seconds) = held_up(wait);
        let mut response = refused(status, text)?;
        response.headers_mut().insert(header::RETRY_AFTER, HeaderValue::from(seconds));
        return Ok(response);
    }
    let Ok(_looking) = doors.limits.looking.acquire().await else { return Err(PageError::Slow) };
    let (kept_in, given) = (store.clone(), form.value("passphrase").to_owned());
    let right = blocking(move || {
        let kept = kept_in.setting(Setting::Passphrase)?;
        Ok(passphrase::is_right(&given, kept.as_deref()))
    })
    .await?;
    if !right {
        log::warn!("a passphrase was wrong");
        return refused(StatusCode::UNAUTHORIZED, "That is not the passphrase.".into());
    }
    let_in(store, session, &name, Role::Baker).await?;
    remembered(&request, known, on_to(to))
}

fn name_fault(name: &str) -> Option<String> {
    let length = name.chars().count();
    (length == 0 || length > NAME_MAX)
        .then(|| format!("Give this device a name of 1 to {NAME_MAX} characters, so that you know it again."))
}

/// Lets a device in; its session is a new one, whatever it came with.
async fn let_in(store: web::Data<Store>, session: Session, name: &str, role: Role) -> Result<(), PageError> {
    let name = name.to_owned();
    let id = blocking(move || Ok(store.add_device(&name, role)?)).await?;
    session.renew();
    session.insert(DEVICE, id.0).map_err(|_| PageError::Slow)
}

/// A link that was followed: it is not used up before its button is pressed, for some programs look at links by
/// themselves.
pub async fn pair(
    store: web::Data<Store>,
    doors: web::Data<Doors>,
    token: web::Path<String>,
) -> Result<HttpResponse, PageError> {
    if !doors.links.is_good(&token, store.clock.now()) {
        return Err(PageError::UsedLink);
    }
    html_as(StatusCode::OK, &PairPage { name: String::new(), fault: String::new() })
}

/// Uses a link up.
pub async fn paired(
    request: HttpRequest,
    door: web::Data<Door>,
    store: web::Data<Store>,
    doors: web::Data<Doors>,
    session: Session,
    token: web::Path<String>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    // The laptop itself is no device of its own, and uses no link up.
    if matches!(door.get_ref(), Door::Here) {
        return Ok(on_to("/".into()));
    }
    let name = posted.0.value("name").trim().to_owned();
    if let Some(fault) = name_fault(&name) {
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &PairPage { name, fault });
    }
    if let Some(Err(wait)) = request.peer_addr().map(|from| doors.limits.try_link(from.ip())) {
        let (status, fault, _) = held_up(wait);
        return html_as(status, &PairPage { name, fault });
    }
    let role = doors.links.take(&token, store.clock.now()).ok_or(PageError::UsedLink)?;
    let_in(store, session, &name, role).await?;
    remembered(&request, known_device(&request), on_to("/".into()))
}

/// The cookie by which a device that was let in once is told from a stranger. It opens nothing: it has tries of its own
/// when others use up everybody's.
const KNOWN: &str = "__Host-cerealis-known";

/// What signs it, behind the household's door.
pub struct Signs(pub Key);

/// A device that was let in before, by the name that it was given then.
fn known_device(request: &HttpRequest) -> Option<String> {
    let signs = request.app_data::<web::Data<Signs>>()?;
    let mut jar = CookieJar::new();
    jar.add_original(request.cookie(KNOWN)?);
    Some(jar.signed(&signs.0).get(KNOWN)?.value().to_owned())
}

/// Gives a device a name by which it is known again.
fn remembered(
    request: &HttpRequest,
    known: Option<String>,
    mut response: HttpResponse,
) -> Result<HttpResponse, PageError> {
    let Some(signs) = request.app_data::<web::Data<Signs>>() else { return Ok(response) };
    let mut bytes = [0u8; 16];
    getrandom::fill(&mut bytes).map_err(|_| PageError::Slow)?;
    let name = known.unwrap_or_else(|| bytes.iter().map(|b| format!("{b:02x}")).collect());
    let cookie = Cookie::build(KNOWN, name)
        .path("/")
        .secure(true)
        .http_only(true)
        .same_site(SameSite::Strict)
        .max_age(KNOWN_FOR)
        .finish();
    let mut jar = CookieJar::new();
    jar.signed_mut(&signs.0).add(cookie);
    for cookie in jar.delta() {
        response.add_cookie(cookie).map_err(|_| PageError::Slow)?;
    }
    Ok(response)
}

/// For how long a device is known.
const KNOWN_FOR: CookieDuration = CookieDuration::days(365);

/// Goes out, and is forgotten here.
pub async fn out(
    request: HttpRequest,
    store: web::Data<Store>,
    doors: web::Data<Doors>,
    session: Session,
) -> Result<HttpResponse, PageError> {
    use actix_web::HttpMessage;
    let visitor = request.extensions().get::<Visitor>().cloned();
    if let Some(Visitor::Known(device)) = visitor {
        blocking(move || Ok(store.remove_device(device.id)?)).await?;
        doors.sign_out();
    }
    session.purge();
    let mut response = on_to("/sign-in".into());
    // What this device read is not to be read on it any more.
    let clear = HeaderValue::from_static("\"cache\", \"storage\"");
    response.headers_mut().insert(header::HeaderName::from_static("clear-site-data"), clear);
    Ok(response)
}

#[cfg(test)]
mod tests {
    use super::onward;

    #[test]
    fn on_to_our_own_pages_alone() {
        for ours in ["/day", "/formulas/3/sheet", "/", "/formulas?sort=name&page=2"] {
            assert_eq!(onward(ours), ours);
        }
        for other in [
            "",
            "//evil.example",
            "https://evil.example",
            "/\\evil.example",
            "/\t/evil.example",
            "\t//evil.example",
            "/\n/evil.example",
            " //evil.example",
            "/.//evil.example",
            "/a/..//evil.example",
            "javascript:alert(1)",
            "/sign-in?to=/",
            "\\\\evil.example",
            "/sign-in",
        ] {
            assert_eq!(onward(other), "/", "{other:?}");
        }
    }

    proptest::proptest! {
        /// Wherever it leads, it leads here: read by a browser's rules from a page of ours.
        #[test]
        fn no_address_leads_away(to in "[/\\\\\t\r\n .:@a-z%2Fx?#]{0,24}") {
            let here = super::Url::parse("https://10.0.0.2:8751/sign-in").unwrap();
            let there = here.join(&onward(&to)).unwrap();
            proptest::prop_assert_eq!(there.origin(), here.origin(), "{:?}", to);
        }
    }
}
