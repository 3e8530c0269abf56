//! Lists that are asked for page by page: how many rows, and after which one.

use crate::Problem;
use rigore_mechanics::message;
use rigore_store::PageCursor;

/// Rows on a page at most.
const MOST: u32 = 400;

/// How many rows are wanted, where it is said.
pub fn page_size(field: &str, limit: Option<u32>, usual: u32) -> Result<u32, Problem> {
    let limit = limit.unwrap_or(usual);
    if (1..=MOST).contains(&limit) {
        return Ok(limit);
    }
    Err(Problem::field(field, message!("server-whole-number-from-1-needed", most = MOST)))
}

/// The place in a list that a page comes after.
pub fn place(after: Option<&str>) -> Result<Option<PageCursor>, Problem> {
    let wrong = |()| Problem::field("after", message!("server-next-page-needed-left-out-list"));
    after.map(|after| after.parse().map_err(wrong)).transpose()
}

/// Cuts rows that were asked for with one more than a page holds; gives the last of the page where there are more.
pub fn last_of_page<T>(rows: &mut Vec<T>, limit: u32) -> Option<&T> {
    let limit = usize::try_from(limit).unwrap_or(usize::MAX);
    let more = rows.len() > limit;
    rows.truncate(limit);
    rows.last().filter(|_| more)
}
