//! Pictures beside the record, and pages of manuals beside plans: entries and plans refer to them by the hash of their
//! bytes.

use crate::{Store, StoreError};
use rigore_assembly::Picture;
use rigore_mechanics::text;
use sha2::{Digest, Sha256};

/// A picture with its bytes.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct KeptPicture {
    /// `image/jpeg` or `image/png`.
    pub media: String,
    /// The picture itself.
    pub bytes: Vec<u8>,
}

/// What the bytes of a picture are, by their content; nothing where they are neither.
pub fn media_of(bytes: &[u8]) -> Option<&'static str> {
    const PNG: &[u8] = b"\x89PNG\r\n\x1a\n";
    let jpeg = bytes.starts_with(&[0xff, 0xd8, 0xff]) && bytes.len() > 100;
    let png = bytes.starts_with(PNG) && bytes.get(12..16) == Some(b"IHDR");
    jpeg.then_some("image/jpeg").or(png.then_some("image/png"))
}

/// What the bytes of a document are: a PDF, or a picture.
pub fn document_media_of(bytes: &[u8]) -> Option<&'static str> {
    bytes.starts_with(b"%PDF-").then_some(PDF).or_else(|| media_of(bytes))
}

/// The media type of a PDF.
pub const PDF: &str = "application/pdf";

/// The most pixels that a picture may have: a few bytes can unpack to gigabytes where it is shown.
pub const MOST_PIXELS: usize = 64_000_000;

/// Whether a picture is small enough to be shown, by the size that its head tells; false where it tells none.
pub fn can_be_shown(bytes: &[u8]) -> bool {
    imagesize::blob_size(bytes).is_ok_and(|size| {
        size.width > 0 && size.height > 0 && size.width.saturating_mul(size.height) <= MOST_PIXELS
    })
}

impl Store {
    /// Keeps a picture; the same twice is one.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn keep_picture(&self, media: &str, bytes: &[u8]) -> Result<Picture, StoreError> {
        let hash = hex::encode(Sha256::digest(bytes));
        sqlx::query!(
            "INSERT INTO pictures (hash, media, bytes) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING",
            hash,
            media,
            bytes
        )
        .execute(&self.pool)
        .await?;
        Ok(Picture { hash, media: media.to_owned(), bytes: bytes.len() as u64 })
    }

    /// A picture by its hash.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such picture.
    pub async fn picture(&self, hash: &str) -> Result<KeptPicture, StoreError> {
        let row = sqlx::query_as!(KeptPicture, "SELECT media, bytes FROM pictures WHERE hash = $1", hash);
        let found = row.fetch_optional(&self.pool).await?;
        let picture = found.ok_or_else(|| StoreError::NotThere(text!("store-picture", hash)))?;
        if hex::encode(Sha256::digest(&picture.bytes)) != hash {
            return Err(StoreError::ChangedFile(format!("The picture {hash}")));
        }
        Ok(picture)
    }

    /// Whether a picture that an entry refers to is kept as it says.
    pub(crate) async fn has_picture(&self, picture: &Picture) -> Result<bool, StoreError> {
        let size = i32::try_from(picture.bytes).unwrap_or(i32::MAX);
        let found = sqlx::query_scalar!(
            "SELECT hash FROM pictures WHERE hash = $1 AND media = $2 AND length(bytes) = $3",
            picture.hash,
            picture.media,
            size
        );
        Ok(found.fetch_optional(&self.pool).await?.is_some())
    }
}

#[cfg(test)]
mod tests {
    use super::{can_be_shown, media_of};

    #[test]
    fn a_picture_that_unpacks_to_gigabytes_is_not_shown() {
        let png = |width: u32, height: u32| {
            let size = [width.to_be_bytes(), height.to_be_bytes()].concat();
            [b"\x89PNG\r\n\x1a\n".as_slice(), &[0, 0, 0, 13], b"IHDR", &size, &[8, 2, 0, 0, 0]].concat()
        };
        assert!(can_be_shown(&png(8000, 8000)));
        for (width, height) in [(60_000, 60_000), (u32::MAX, u32::MAX), (0, 5)] {
            assert!(!can_be_shown(&png(width, height)), "{width} x {height}");
        }
        assert!(!can_be_shown(b"\xff\xd8\xff\xe0"), "a head without a size");
    }

    #[test]
    fn a_picture_is_known_by_its_content() {
        let png = [b"\x89PNG\r\n\x1a\n".as_slice(), &[0, 0, 0, 13], b"IHDR"].concat();
        assert_eq!(media_of(&png), Some("image/png"));
        let jpeg = [[0xff, 0xd8, 0xff, 0xe0].as_slice(), &[0; 200]].concat();
        assert_eq!(media_of(&jpeg), Some("image/jpeg"));
        for other in [&b"<svg onload='x'>"[..], b"GIF89a", b"", &png[..12], &jpeg[..3]] {
            assert_eq!(media_of(other), None);
        }
    }
}
