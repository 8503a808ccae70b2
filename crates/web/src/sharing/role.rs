//! By which door somebody came, who that is, and what they may do.

use std::future::{Ready, ready};
use std::sync::{Arc, RwLock};

use actix_session::SessionExt;
use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{Payload, ServiceRequest, ServiceResponse};
use actix_web::http::{Method, StatusCode, header};
use actix_web::middleware::Next;
use actix_web::{Error, FromRequest, HttpMessage, HttpRequest, HttpResponse, ResponseError, web};
use cerealis_store::{Device, DeviceId, Role, Store};

use super::sessions::DEVICE;
use crate::error::{self, PageError, from_script};
use crate::routes::{Table, Who};

/// Names, with their port, under which the household's devices find this machine.
pub type Names = Arc<RwLock<Vec<String>>>;

/// By which door a request came.
#[derive(Clone)]
pub enum Door {
    /// From this machine itself: whoever sits at it has its files anyway.
    Here,
    /// From the household's network, under one of these names.
    Kitchen(Names),
}

impl Door {
    /// Whether a Host header names this door.
    pub fn is_named(&self, host: &str) -> bool {
        match self {
            Door::Here => is_this_machine(host),
            Door::Kitchen(names) => {
                let names = names.read().unwrap_or_else(|e| e.into_inner());
                names.iter().any(|n| n.eq_ignore_ascii_case(host))
            }
        }
    }

    /// How its addresses begin.
    pub fn scheme(&self) -> &'static str {
        match self {
            Door::Here => "http://",
            Door::Kitchen(_) => "https://",
        }
    }
}

fn is_this_machine(host: &str) -> bool {
    let name = match host.rsplit_once(':') {
        Some((name, port)) if port.chars().all(|c| c.is_ascii_digit()) => name,
        _ => host,
    };
    name == "127.0.0.1" || name == "[::1]" || name.eq_ignore_ascii_case("localhost")
}

/// Who came by the household's door.
#[derive(Clone, Debug, PartialEq)]
pub enum Visitor {
    /// A device that was let in.
    Known(Device),
    /// Nobody who is known.
    Nobody,
}

impl Visitor {
    /// Whether an address that is for some is for them.
    fn is_one_of(&self, who: Who) -> bool {
        match (who, self) {
            (Who::Anyone, _) | (Who::Household, Visitor::Known(_)) => true,
            (Who::Baker, Visitor::Known(device)) => device.role == Role::Baker,
            _ => false,
        }
    }

    /// What they are called in a page.
    pub fn key(&self) -> &'static str {
        match self {
            Visitor::Known(device) => device.role.key(),
            Visitor::Nobody => "nobody",
        }
    }
}

/// Somebody who may do everything. A handler that changes formulas, kitchen or sharing, or shows how, takes one.
pub struct Baker {
    /// Their device; none at this machine itself.
    pub device: Option<DeviceId>,
}

impl FromRequest for Baker {
    type Error = PageError;
    type Future = Ready<Result<Self, PageError>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        ready(match request.app_data::<web::Data<Door>>().map(|d| d.get_ref()) {
            Some(Door::Here) => Ok(Baker { device: None }),
            Some(Door::Kitchen(_)) => match request.extensions().get::<Visitor>() {
                Some(Visitor::Known(d)) if d.role == Role::Baker => Ok(Baker { device: Some(d.id) }),
                _ => Err(PageError::ForTheBaker),
            },
            None => Err(PageError::ForTheBaker),
        })
    }
}

/// Somebody at this machine itself, and no device of the household.
pub struct AtThisMachine;

impl FromRequest for AtThisMachine {
    type Error = PageError;
    type Future = Ready<Result<Self, PageError>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let here = matches!(request.app_data::<web::Data<Door>>().map(|d| d.get_ref()), Some(Door::Here));
        ready(if here { Ok(AtThisMachine) } else { Err(PageError::NotFound) })
    }
}

/// Lets in who may come to an address, and shows the others how to come in.
///
/// # Errors
/// What the handler reports.
pub async fn let_in(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let visitor = visitor(&request).await;
    admit(visitor, request, next).await
}

/// Lets a visitor in to an address that is for them, by the table of addresses: what is not in it is for nobody.
///
/// # Errors
/// What the handler reports.
pub async fn admit(
    visitor: Visitor,
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let refused = refusal(&visitor, &request);
    request.extensions_mut().insert(visitor);
    match refused {
        None => Ok(next.call(request).await?.map_into_boxed_body()),
        Some(answer) => Ok(request.into_response(answer)),
    }
}

fn refusal(visitor: &Visitor, request: &ServiceRequest) -> Option<HttpResponse> {
    let pattern = request.match_pattern();
    let table = request.app_data::<web::Data<Table>>();
    let who = pattern.as_ref().zip(table).and_then(|(p, t)| t.who(request.method(), p));
    if who.is_some_and(|who| visitor.is_one_of(who)) {
        return None;
    }
    if *visitor == Visitor::Nobody {
        let shows = *request.method() == Method::GET && !from_script(request.headers());
        return Some(if shows {
            let to =
                form_urlencoded::Serializer::new(String::new()).append_pair("to", request.path()).finish();
            HttpResponse::SeeOther().insert_header((header::LOCATION, format!("/sign-in?{to}"))).finish()
        } else {
            let message = "This device is signed out. Sign in again, then repeat it.";
            error::page(StatusCode::UNAUTHORIZED, "Signed out", message)
        });
    }
    match who {
        // An address of this machine is none by this door.
        Some(Who::ThisMachine) => Some(PageError::NotFound.error_response()),
        Some(_) => Some(PageError::ForTheBaker.error_response()),
        // Nothing is here, or not by this method: the answer says so. What is served without being in the table is not.
        None => match pattern {
            Some(p) if !table.is_some_and(|t| t.has(&p)) => Some(PageError::ForTheBaker.error_response()),
            _ => None,
        },
    }
}

/// A page as it is drawn for who came by this door: a helper's has no ways to what is the baker's.
///
/// # Errors
/// What the handler reports.
pub async fn drawn_for(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let response = next.call(request).await?.map_into_boxed_body();
    let page =
        response.headers().get(header::CONTENT_TYPE).is_some_and(|t| t.as_bytes().starts_with(b"text/html"));
    let key = response.request().extensions().get::<Visitor>().map(Visitor::key);
    let (Some(key), true) = (key, page) else { return Ok(response) };
    Ok(response.map_body(|_, body| match body.try_into_bytes() {
        Ok(bytes) => {
            let html = String::from_utf8_lossy(&bytes);
            BoxBody::new(html.replacen("<body ", &format!("<body data-visitor=\"{key}\" "), 1))
        }
        Err(body) => body,
    }))
}

async fn visitor(request: &ServiceRequest) -> Visitor {
    let device: Option<i32> = request.get_session().get(DEVICE).ok().flatten();
    let store = request.app_data::<web::Data<Store>>().cloned();
    let (Some(device), Some(store)) = (device, store) else { return Visitor::Nobody };
    let found = web::block(move || {
        let device = store.device(DeviceId(device))?;
        store.device_seen(&device)?;
        Ok::<_, cerealis_store::StoreError>(device)
    });
    match found.await {
        Ok(Ok(device)) => Visitor::Known(device),
        _ => Visitor::Nobody,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_this_machine() {
        for host in ["127.0.0.1:8750", "localhost", "LOCALHOST:8750", "localhost:8750", "[::1]:8750", "[::1]"]
        {
            assert!(Door::Here.is_named(host), "{host}");
        }
        for host in ["", "mill.example", "127.0.0.1.evil.example:8750", "192.168.0.5:8750"] {
            assert!(!Door::Here.is_named(host), "{host}");
        }
    }

    #[test]
    fn only_by_the_names_that_are_shared() {
        let names =
            Arc::new(RwLock::new(vec!["192.168.7.5:8751".to_owned(), "millhouse.local:8751".to_owned()]));
        let door = Door::Kitchen(names.clone());
        assert!(door.is_named("192.168.7.5:8751") && door.is_named("Millhouse.local:8751"));
        for host in ["", "192.168.7.5", "192.168.7.5:80", "rebound.example:8751", "127.0.0.1:8751"] {
            assert!(!door.is_named(host), "{host}");
        }
        *names.write().unwrap() = vec!["192.168.7.9:8751".to_owned()];
        assert!(!door.is_named("192.168.7.5:8751"), "an old address is none");
    }
}
