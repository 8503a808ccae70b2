//! Sessions in the kitchen's file: who is removed there is out at once.

use std::collections::HashMap;

use actix_session::storage::{
    LoadError, SaveError, SessionKey, SessionStore, UpdateError, generate_session_key,
};
use actix_web::cookie::time::Duration;
use actix_web::web;
use cerealis_store::{DeviceId, Session, Store};
use jiff::SignedDuration;

/// What a session says of itself: whose it is.
pub const DEVICE: &str = "device";

/// The sessions of a kitchen.
pub struct Sessions(pub Store);

type State = HashMap<String, String>;

impl Sessions {
    async fn keep(&self, key: &SessionKey, state: State, ttl: &Duration) -> Result<(), String> {
        // What is in a state is JSON.
        let device = state.get(DEVICE).and_then(|d| serde_json::from_str::<i32>(d).ok());
        let device = device.ok_or("a session of no device")?;
        let body = serde_json::to_string(&state).map_err(|e| e.to_string())?;
        let (store, key, seconds) = (self.0.clone(), key.as_ref().to_owned(), ttl.whole_seconds());
        let kept = web::block(move || {
            let ends_at = store.clock.now() + SignedDuration::from_secs(seconds);
            store.keep_session(&key, &Session { device: DeviceId(device), body, ends_at })
        });
        kept.await.map_err(|e| e.to_string())?.map_err(|e| e.to_string())
    }
}

impl SessionStore for Sessions {
    async fn load(&self, key: &SessionKey) -> Result<Option<State>, LoadError> {
        let (store, key) = (self.0.clone(), key.as_ref().to_owned());
        let found = web::block(move || store.session(&key)).await.map_err(|e| LoadError::Other(e.into()))?;
        let Some(session) = found.map_err(|e| LoadError::Other(e.into()))? else { return Ok(None) };
        let state = serde_json::from_str(&session.body).map_err(|e| LoadError::Deserialization(e.into()))?;
        Ok(Some(state))
    }

    async fn save(&self, state: State, ttl: &Duration) -> Result<SessionKey, SaveError> {
        let key = generate_session_key();
        self.keep(&key, state, ttl).await.map_err(|e| SaveError::Other(std::io::Error::other(e).into()))?;
        Ok(key)
    }

    async fn update(&self, key: SessionKey, state: State, ttl: &Duration) -> Result<SessionKey, UpdateError> {
        let kept = self.keep(&key, state, ttl).await;
        kept.map_err(|e| UpdateError::Other(std::io::Error::other(e).into()))?;
        Ok(key)
    }

    async fn update_ttl(&self, _: &SessionKey, _: &Duration) -> anyhow::Result<()> {
        // A session is as long as it was begun for.
        Ok(())
    }

    async fn delete(&self, key: &SessionKey) -> anyhow::Result<()> {
        let (store, key) = (self.0.clone(), key.as_ref().to_owned());
        Ok(web::block(move || store.end_session(&key)).await??)
    }
}
