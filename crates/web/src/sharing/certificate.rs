//! The certificates that the household's devices know the kitchen by: an authority of its own, which signs for addresses
//! of home networks alone, and what it signs for this machine.

use std::fs;
use std::io::{self, Write};
use std::net::{IpAddr, Ipv4Addr};
use std::path::{Path, PathBuf};
use std::sync::{Arc, RwLock};

use jiff::Timestamp;
use rcgen::{
    BasicConstraints, CertificateParams, CidrSubnet, DnType, ExtendedKeyUsagePurpose, GeneralSubtree, IsCa,
    Issuer, KeyPair, KeyUsagePurpose, NameConstraints,
};
use rustls::ServerConfig;
use rustls::crypto::ring;
use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, PrivateKeyDer};
use rustls::server::{ClientHello, ResolvesServerCert};
use rustls::sign::CertifiedKey;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use time::OffsetDateTime;

const DAY: i64 = 24 * 3600;
/// How long the authority is good for.
const AUTHORITY: i64 = 3650 * DAY;
/// How long what it signs is.
const SIGNED: i64 = 180 * DAY;
/// How long before its end it is made anew.
const ANEW: i64 = 30 * DAY;

/// What the certificate of this machine was made for.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
struct MadeFor {
    names: Vec<String>,
    ends: i64,
}

/// The kitchen's authority, in its folder beside the kitchen's file.
pub struct Authority {
    folder: PathBuf,
}

fn failed(e: impl std::fmt::Display) -> io::Error {
    io::Error::other(e.to_string())
}

/// Writes a file that only its owner reads.
fn write(path: &Path, text: &str) -> io::Result<()> {
    let part = path.with_extension("part");
    let _ = fs::remove_file(&part);
    let mut options = fs::OpenOptions::new();
    options.write(true).create_new(true);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
    let mut file = options.open(&part)?;
    file.write_all(text.as_bytes())?;
    file.sync_all()?;
    fs::rename(&part, path)
}

/// Networks of households, and this machine's own.
const NETWORKS: [(IpAddr, u8); 5] = [
    (IpAddr::V4(Ipv4Addr::new(10, 0, 0, 0)), 8),
    (IpAddr::V4(Ipv4Addr::new(172, 16, 0, 0)), 12),
    (IpAddr::V4(Ipv4Addr::new(192, 168, 0, 0)), 16),
    (IpAddr::V4(Ipv4Addr::new(169, 254, 0, 0)), 16),
    (IpAddr::V4(Ipv4Addr::new(127, 0, 0, 0)), 8),
];
const UNIQUE_LOCAL: [u8; 16] = [0xfc, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0];

impl Authority {
    /// That of a folder; made where there is none yet.
    ///
    /// # Errors
    /// A folder that cannot be written.
    pub fn open(folder: &Path, host: &str, now: Timestamp) -> io::Result<Authority> {
        fs::create_dir_all(folder)?;
        #[cfg(unix)]
        fs::set_permissions(folder, std::os::unix::fs::PermissionsExt::from_mode(0o700))?;
        let authority = Authority { folder: folder.into() };
        if !authority.file("authority.pem").exists() || !authority.file("authority.key").exists() {
            authority.make(host, now)?;
        }
        Ok(authority)
    }

    fn file(&self, name: &str) -> PathBuf {
        self.folder.join(name)
    }

    fn make(&self, host: &str, now: Timestamp) -> io::Result<()> {
        let key = KeyPair::generate().map_err(failed)?;
        let mut params = CertificateParams::new(Vec::new()).map_err(failed)?;
        params.distinguished_name.push(DnType::CommonName, format!("Cerealis kitchen on {host}"));
        params.is_ca = IsCa::Ca(BasicConstraints::Constrained(0));
        params.key_usages = vec![KeyUsagePurpose::KeyCertSign, KeyUsagePurpose::CrlSign];
        // Whoever steals its key plays no bank with it: it is good for addresses of a household and nothing else.
        let mut permitted: Vec<GeneralSubtree> = NETWORKS
            .iter()
            .map(|(net, bits)| GeneralSubtree::IpAddress(CidrSubnet::from_addr_prefix(*net, *bits)))
            .collect();
        permitted.push(GeneralSubtree::IpAddress(CidrSubnet::from_v6_prefix(UNIQUE_LOCAL, 7)));
        let names = ["local", "home.arpa", "lan", "internal", host];
        permitted.extend(names.iter().map(|n| GeneralSubtree::DnsName((*n).to_owned())));
        params.name_constraints =
            Some(NameConstraints { permitted_subtrees: permitted, excluded_subtrees: Vec::new() });
        (params.not_before, params.not_after) = between(now, AUTHORITY)?;
        let made = params.self_signed(&key).map_err(failed)?;
        write(&self.file("authority.key"), &key.serialize_pem())?;
        write(&self.file("authority.pem"), &made.pem())
    }

    /// Its certificate, for devices that are to trust it.
    ///
    /// # Errors
    /// A file that does not read.
    pub fn certificate(&self) -> io::Result<CertificateDer<'static>> {
        CertificateDer::from_pem_file(self.file("authority.pem")).map_err(failed)
    }

    /// The certificate of this machine under some names and addresses: the one that is there, while it is for those and
    /// good for a month and more; else a new one.
    ///
    /// # Errors
    /// A folder that cannot be read or written.
    pub fn of(&self, names: &[String], now: Timestamp) -> io::Result<Arc<CertifiedKey>> {
        if let Some(there) = self.there(names, now) {
            return Ok(there);
        }
        let key = fs::read_to_string(self.file("authority.key"))?;
        let key = KeyPair::from_pem(&key).map_err(failed)?;
        let issuer = Issuer::from_ca_cert_der(&self.certificate()?, key).map_err(failed)?;
        let own = KeyPair::generate().map_err(failed)?;
        let mut params = CertificateParams::new(names.to_vec()).map_err(failed)?;
        let name = names.first().map_or("kitchen", String::as_str);
        params.distinguished_name.push(DnType::CommonName, format!("Cerealis at {name}"));
        params.use_authority_key_identifier_extension = true;
        params.key_usages = vec![KeyUsagePurpose::DigitalSignature];
        params.extended_key_usages = vec![ExtendedKeyUsagePurpose::ServerAuth];
        (params.not_before, params.not_after) = between(now, SIGNED)?;
        let made = params.signed_by(&own, &issuer).map_err(failed)?;
        let made_for = MadeFor { names: names.to_vec(), ends: now.as_second() + SIGNED };
        write(&self.file("machine.key"), &own.serialize_pem())?;
        write(&self.file("machine.pem"), &made.pem())?;
        write(&self.file("machine.json"), &serde_json::to_string(&made_for).map_err(failed)?)?;
        self.there(names, now).ok_or_else(|| failed("the new certificate does not read"))
    }

    fn there(&self, names: &[String], now: Timestamp) -> Option<Arc<CertifiedKey>> {
        let text = fs::read_to_string(self.file("machine.json")).ok()?;
        let made_for: MadeFor = serde_json::from_str(&text).ok()?;
        if made_for.names != names || made_for.ends - now.as_second() < ANEW {
            return None;
        }
        let chain =
            vec![CertificateDer::from_pem_file(self.file("machine.pem")).ok()?, self.certificate().ok()?];
        let key = PrivateKeyDer::from_pem_file(self.file("machine.key")).ok()?;
        let key = ring::sign::any_supported_type(&key).ok()?;
        Some(Arc::new(CertifiedKey::new(chain, key)))
    }
}

fn between(now: Timestamp, lasts: i64) -> io::Result<(OffsetDateTime, OffsetDateTime)> {
    let at = |second: i64| OffsetDateTime::from_unix_timestamp(second).map_err(failed);
    // Clocks of phones are off by a little.
    Ok((at(now.as_second() - DAY)?, at(now.as_second() + lasts)?))
}

/// A certificate's finger print, to be compared by eye: its SHA-256 in pairs.
pub fn finger_print(certificate: &[u8]) -> String {
    Sha256::digest(certificate).iter().map(|b| format!("{b:02X}")).collect::<Vec<_>>().join(" ")
}

/// The certificate that is shown to who comes; another takes its place while the doors are open.
#[derive(Debug)]
pub struct Shown(RwLock<Arc<CertifiedKey>>);

impl Shown {
    /// A certificate to begin with.
    pub fn new(key: Arc<CertifiedKey>) -> Shown {
        Shown(RwLock::new(key))
    }

    /// Shows another from here on.
    pub fn show(&self, key: Arc<CertifiedKey>) {
        *self.0.write().unwrap_or_else(|e| e.into_inner()) = key;
    }

    fn now(&self) -> Arc<CertifiedKey> {
        self.0.read().unwrap_or_else(|e| e.into_inner()).clone()
    }
}

impl ResolvesServerCert for Shown {
    fn resolve(&self, _: ClientHello<'_>) -> Option<Arc<CertifiedKey>> {
        Some(self.now())
    }
}

/// How the doors speak: TLS 1.2 and 1.3.
///
/// # Errors
/// Never, with the versions as they are.
pub fn spoken(shown: Arc<Shown>) -> io::Result<ServerConfig> {
    let speaks = ServerConfig::builder_with_provider(Arc::new(ring::default_provider()));
    let speaks = speaks.with_safe_default_protocol_versions().map_err(failed)?;
    Ok(speaks.with_no_client_auth().with_cert_resolver(shown))
}

#[cfg(test)]
mod tests {
    use super::*;
    use rustls::RootCertStore;
    use rustls::client::WebPkiServerVerifier;
    use rustls::client::danger::ServerCertVerifier;
    use rustls::pki_types::{ServerName, UnixTime};

    fn now() -> Timestamp {
        "2026-11-26T12:00:00Z".parse().unwrap()
    }

    /// Whether a device that trusts the authority takes a certificate for a name at a moment.
    fn taken(authority: &Authority, key: &CertifiedKey, name: &str, at: Timestamp) -> bool {
        let mut roots = RootCertStore::empty();
        roots.add(authority.certificate().unwrap()).unwrap();
        let provider = Arc::new(ring::default_provider());
        let verifier =
            WebPkiServerVerifier::builder_with_provider(Arc::new(roots), provider).build().unwrap();
        let time = UnixTime::since_unix_epoch(std::time::Duration::from_secs(at.as_second() as u64));
        let name = ServerName::try_from(name.to_owned()).unwrap();
        verifier.verify_server_cert(&key.cert[0], &key.cert[1..], &name, &[], time).is_ok()
    }

    fn names(all: &[&str]) -> Vec<String> {
        all.iter().map(|n| (*n).to_owned()).collect()
    }

    #[test]
    fn a_device_that_trusts_the_kitchen_takes_its_names_and_no_others() {
        let dir = tempfile::tempdir().unwrap();
        let authority = Authority::open(dir.path(), "millhouse", now()).unwrap();
        let key = authority.of(&names(&["192.168.7.5", "millhouse.local", "millhouse"]), now()).unwrap();
        for name in ["192.168.7.5", "millhouse.local", "millhouse"] {
            assert!(taken(&authority, &key, name, now()), "{name}");
        }
        for name in ["192.168.7.6", "10.0.0.1", "bank.example"] {
            assert!(!taken(&authority, &key, name, now()), "{name}");
        }
        let later = |days: i64| now() + jiff::SignedDuration::from_secs(days * DAY);
        assert!(taken(&authority, &key, "192.168.7.5", later(179)));
        assert!(!taken(&authority, &key, "192.168.7.5", later(181)));
    }

    /// Its key in other hands makes nothing that a device takes for a place outside of the house.
    #[test]
    fn the_authority_is_good_for_nothing_outside() {
        let dir = tempfile::tempdir().unwrap();
        let authority = Authority::open(dir.path(), "millhouse", now()).unwrap();
        for name in ["bank.example", "8.8.8.8"] {
            let key = authority.of(&names(&[name]), now()).unwrap();
            assert!(!taken(&authority, &key, name, now()), "{name}");
        }
    }

    #[test]
    fn it_is_made_anew_for_another_address_and_before_its_end() {
        let dir = tempfile::tempdir().unwrap();
        let authority = Authority::open(dir.path(), "millhouse", now()).unwrap();
        let one = authority.of(&names(&["192.168.7.5"]), now()).unwrap();
        let of = |name: &str, days: i64| {
            let again = Authority::open(dir.path(), "millhouse", now()).unwrap();
            again.of(&names(&[name]), now() + jiff::SignedDuration::from_secs(days * DAY)).unwrap()
        };
        assert_eq!(one.cert, of("192.168.7.5", 140).cert, "the same for as long as it is good");
        let renewed = of("192.168.7.5", 160);
        assert_ne!(one.cert[0], renewed.cert[0]);
        assert_eq!(one.cert[1], renewed.cert[1], "devices go on trusting the authority");
        let moved = of("192.168.7.9", 160);
        assert!(!taken(&authority, &moved, "192.168.7.5", now()), "not for an old address");
    }

    #[cfg(unix)]
    #[test]
    fn only_its_owner_reads_its_keys() {
        use std::os::unix::fs::PermissionsExt;
        let dir = tempfile::tempdir().unwrap();
        let folder = dir.path().join("tls");
        Authority::open(&folder, "millhouse", now()).unwrap().of(&names(&["10.0.0.2"]), now()).unwrap();
        let mode = |p: &Path| fs::metadata(p).unwrap().permissions().mode() & 0o777;
        assert_eq!(mode(&folder), 0o700);
        for entry in fs::read_dir(&folder).unwrap() {
            assert_eq!(mode(&entry.unwrap().path()), 0o600);
        }
    }
}
