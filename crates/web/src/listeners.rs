//! Pages that listen to what happens: a few for each device and each address, so that one of them never keeps the others
//! from the kitchen's door.

use std::net::IpAddr;
use std::sync::{Arc, Mutex};

use cerealis_store::DeviceId;
use tokio::sync::oneshot;

use crate::measures::MEASURES;

/// How many pages of one device listen.
const OF_DEVICE: usize = 12;
/// How many of one address.
const OF_ADDRESS: usize = 40;
/// How many in all: a door takes four times as many connections, so pages are served beside them.
const IN_ALL: usize = 128;

/// Who listens.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Listener {
    /// The household's device; none at this machine itself.
    pub device: Option<DeviceId>,
    /// From where.
    pub address: Option<IpAddr>,
}

struct Open {
    number: u64,
    who: Listener,
    /// Dropped, it ends the stream.
    _ends: oneshot::Sender<()>,
}

#[derive(Default)]
struct All {
    next: u64,
    open: Vec<Open>,
}

impl All {
    /// Ends the oldest of some, where there are as many as may be.
    fn keep_under(&mut self, most: usize, is: impl Fn(&Open) -> bool) {
        if self.open.iter().filter(|o| is(o)).count() >= most
            && let Some(oldest) = self.open.iter().position(is)
        {
            self.open.remove(oldest);
        }
    }
}

/// Those that listen now.
#[derive(Clone, Default)]
pub struct Listeners(Arc<Mutex<All>>);

/// A page's place among them, for as long as it listens.
pub struct Listening {
    all: Listeners,
    number: u64,
}

impl Drop for Listening {
    fn drop(&mut self) {
        MEASURES.listening.dec();
        self.all.0.lock().unwrap_or_else(|e| e.into_inner()).open.retain(|o| o.number != self.number);
    }
}

impl Listeners {
    /// Begins to listen. Where there are too many, the one that has listened longest ends: a page that is there comes again
    /// by itself. The second value ends when this one is to.
    pub fn begin(&self, who: Listener) -> (Listening, oneshot::Receiver<()>) {
        let (ends, ended) = oneshot::channel();
        let mut all = self.0.lock().unwrap_or_else(|e| e.into_inner());
        let number = all.next;
        all.next += 1;
        all.keep_under(OF_DEVICE, |o| who.device.is_some() && o.who.device == who.device);
        all.keep_under(OF_ADDRESS, |o| o.who.address == who.address);
        all.keep_under(IN_ALL, |_| true);
        all.open.push(Open { number, who, _ends: ends });
        MEASURES.listening.inc();
        (Listening { all: self.clone(), number }, ended)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_device_has_a_few_and_the_others_keep_theirs() {
        let all = Listeners::default();
        let from = |n: i32, a: u8| Listener {
            device: Some(DeviceId(n)),
            address: Some(IpAddr::from([10, 0, 0, a])),
        };
        let (_laptop, mut ended) = all.begin(from(1, 1));
        let many: Vec<_> = (0..512).map(|_| all.begin(from(2, 2))).collect();
        assert_eq!(all.0.lock().unwrap().open.len(), 1 + OF_DEVICE);
        assert!(ended.try_recv().is_err_and(|e| e == oneshot::error::TryRecvError::Empty), "it goes on");
        drop(many);
        assert_eq!(all.0.lock().unwrap().open.len(), 1);
        let of_many: Vec<_> = (0..512).map(|n| all.begin(from(n, 3))).collect();
        assert_eq!(all.0.lock().unwrap().open.len(), 1 + OF_ADDRESS);
        drop(of_many);
    }
}
