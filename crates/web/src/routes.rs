//! Addresses with who may come to them. An address is registered here or nowhere, and none without saying for whom: what
//! stands in the table is what is served.

use std::future::Future;
use std::panic::AssertUnwindSafe;
use std::pin::Pin;
use std::sync::Arc;
use std::task::{Context, Poll};

use actix_web::http::Method;
use actix_web::{FromRequest, Handler, HttpResponse, Resource, Responder, guard, web};

use crate::error::PageError;

/// Who may come to an address by the household's door. At this machine itself everybody may do everything.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Who {
    /// Whoever finds it: how to come in, and what its page is drawn with.
    Anyone,
    /// Every device that was let in.
    Household,
    /// A baker's device.
    Baker,
    /// No device: only who sits at this machine.
    ThisMachine,
}

/// An address as it is registered.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Registered {
    /// The method; HEAD goes by GET.
    pub method: Method,
    /// The address, its changing parts in braces.
    pub pattern: String,
    /// For whom it is.
    pub who: Who,
}

/// All addresses that are served.
#[derive(Clone, Debug, Default)]
pub struct Table(Arc<Vec<Registered>>);

impl Table {
    /// For whom a method of an address is. `None` for what is not registered, which is for nobody.
    pub fn who(&self, method: &Method, pattern: &str) -> Option<Who> {
        let method = if *method == Method::HEAD { &Method::GET } else { method };
        self.0.iter().find(|r| r.pattern == pattern && r.method == *method).map(|r| r.who)
    }

    /// Whether an address is registered, by any method.
    pub fn has(&self, pattern: &str) -> bool {
        self.0.iter().any(|r| r.pattern == pattern)
    }
}

/// Addresses while they are registered.
#[derive(Default)]
pub struct Routes {
    done: Vec<Resource>,
    open: Option<(String, Resource)>,
    table: Vec<Registered>,
}

impl Routes {
    /// Goes on with an address.
    pub fn at(mut self, pattern: &str) -> Routes {
        self.close();
        self.open = Some((pattern.to_owned(), web::resource(pattern)));
        self
    }

    /// Something that the address has of its own, such as how much may be sent to it.
    pub fn data<T: 'static>(self, data: T) -> Routes {
        self.with(|_, resource| resource.app_data(data))
    }

    /// How it is shown, and to whom.
    pub fn get<F, Args>(mut self, who: Who, handler: F) -> Routes
    where
        F: Handler<Args>,
        Args: FromRequest + 'static,
        F::Output: Responder + 'static,
    {
        self.note(Method::GET, who);
        let shows = guard::Any(guard::Get()).or(guard::Head());
        self.with(|_, resource| resource.route(web::route().guard(shows).to(Caught(handler))))
    }

    /// What it takes, and from whom.
    pub fn post<F, Args>(mut self, who: Who, handler: F) -> Routes
    where
        F: Handler<Args>,
        Args: FromRequest + 'static,
        F::Output: Responder + 'static,
    {
        self.note(Method::POST, who);
        self.with(|_, resource| resource.route(web::post().to(Caught(handler))))
    }

    fn note(&mut self, method: Method, who: Who) {
        if let Some((pattern, _)) = &self.open {
            self.table.push(Registered { method, pattern: pattern.clone(), who });
        }
    }

    fn with(mut self, change: impl FnOnce(&str, Resource) -> Resource) -> Routes {
        if let Some((pattern, resource)) = self.open.take() {
            let resource = change(&pattern, resource);
            self.open = Some((pattern, resource));
        }
        self
    }

    /// Every address has its own methods; another one is told so.
    fn close(&mut self) {
        let Some((pattern, resource)) = self.open.take() else { return };
        let of_it = self.table.iter().filter(|r| r.pattern == pattern);
        let allowed: Vec<&str> = of_it
            .flat_map(|r| if r.method == Method::GET { vec!["GET", "HEAD"] } else { vec!["POST"] })
            .collect();
        let allowed = allowed.join(", ");
        let not_so = move || {
            let allowed = allowed.clone();
            async move { Err::<HttpResponse, _>(PageError::NotSo(allowed)) }
        };
        self.done.push(resource.default_service(web::to(not_so)));
    }

    /// Those that are registered so far, as they are served.
    pub fn registered(&self) -> &[Registered] {
        &self.table
    }

    /// Serves them.
    pub fn serve(mut self, config: &mut web::ServiceConfig) {
        self.close();
        config.app_data(web::Data::new(Table(Arc::new(self.table))));
        for resource in self.done {
            config.service(resource);
        }
    }
}

/// A handler whose panic is a page that says so: the others that are served beside it go on.
#[derive(Clone)]
struct Caught<F>(F);

impl<F, Args> Handler<Args> for Caught<F>
where
    F: Handler<Args>,
    F::Output: Responder + 'static,
{
    type Output = Result<F::Output, PageError>;
    type Future = CaughtFuture<F::Future>;

    fn call(&self, args: Args) -> Self::Future {
        CaughtFuture(Box::pin(self.0.call(args)))
    }
}

/// The work of such a handler.
struct CaughtFuture<F>(Pin<Box<F>>);

impl<F: Future> Future for CaughtFuture<F> {
    type Output = Result<F::Output, PageError>;

    fn poll(mut self: Pin<&mut Self>, cx: &mut Context<'_>) -> Poll<Self::Output> {
        let work = self.0.as_mut();
        match std::panic::catch_unwind(AssertUnwindSafe(|| work.poll(cx))) {
            Ok(Poll::Pending) => Poll::Pending,
            Ok(Poll::Ready(done)) => Poll::Ready(Ok(done)),
            Err(_) => Poll::Ready(Err(PageError::Fault)),
        }
    }
}

#[cfg(test)]
mod tests {
    use actix_web::test;
    use actix_web::{App, http::StatusCode};

    use super::*;

    async fn falls() -> HttpResponse {
        panic!("a fault of the program")
    }

    async fn falls_later() -> HttpResponse {
        actix_web::rt::task::yield_now().await;
        panic!("a fault of the program, after something was waited for")
    }

    /// A panic is a page, and what is served beside it goes on.
    #[actix_web::test]
    async fn a_panic_is_a_page() {
        let routes = || {
            let stands = || async { HttpResponse::Ok().body("here") };
            Routes::default()
                .at("/falls")
                .get(Who::Anyone, falls)
                .post(Who::Baker, falls_later)
                .at("/stands")
                .get(Who::Household, stands)
        };
        let app = test::init_service(App::new().configure(|config| routes().serve(config))).await;
        let status = async |method: Method, path: &str| {
            let request = test::TestRequest::with_uri(path).method(method).to_request();
            test::call_service(&app, request).await
        };
        for _ in 0..3 {
            assert_eq!(status(Method::GET, "/falls").await.status(), StatusCode::INTERNAL_SERVER_ERROR);
            assert_eq!(status(Method::POST, "/falls").await.status(), StatusCode::INTERNAL_SERVER_ERROR);
            assert_eq!(status(Method::GET, "/stands").await.status(), StatusCode::OK);
            assert_eq!(status(Method::HEAD, "/stands").await.status(), StatusCode::OK);
        }
        let other = status(Method::DELETE, "/falls").await;
        assert_eq!(other.status(), StatusCode::METHOD_NOT_ALLOWED);
        assert_eq!(other.headers().get("allow").unwrap(), "GET, HEAD, POST");
        // The table is what is served: for whom is said of each, and of nothing else.
        let table = Table(Arc::new(routes().table));
        assert_eq!(table.who(&Method::HEAD, "/falls"), Some(Who::Anyone));
        assert_eq!(table.who(&Method::POST, "/falls"), Some(Who::Baker));
        assert_eq!(table.who(&Method::POST, "/stands"), None);
        assert!(table.has("/stands") && !table.has("/other"));
    }
}
