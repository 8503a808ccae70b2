//! One dough by itself, exactly: its blocks hang on each other as a tree, so that the best plan beside what stands
//! already is a sum over its branches, without a search.

use super::blocks::{Blocks, Link};
use super::standing::{RoomUntil, Standing};
use super::terms::{HEATS, SPAN, SPARED, Terms, link_cost, quarters, ready_cost};

/// More than any plan costs.
const NEVER: i32 = i32::MAX / 4;

/// What a block and all that hangs on it cost at least, by the step at which it begins.
struct Row {
    first: i32,
    costs: Vec<i32>,
}

impl Row {
    fn at(&self, step: i32) -> i32 {
        let n = step - self.first;
        if n < 0 { NEVER } else { self.costs.get(n as usize).copied().unwrap_or(NEVER) }
    }
}

/// One dough while it is summed up.
struct Sum<'a> {
    terms: &'a Terms,
    /// The links that hang on each block.
    children: Vec<Vec<usize>>,
    /// Both ends of each link, and the link where it is in force.
    links: Vec<(usize, usize, Option<Link>)>,
    /// What each link has to have room for.
    holds: Vec<Vec<(usize, RoomUntil)>>,
    blocks: &'a Blocks,
    /// What each block costs by itself, beside what stands.
    own: Vec<Row>,
}

impl Sum<'_> {
    /// The best of a link for a block that begins at a step: what it costs, and where the other block begins.
    fn best(&self, n: usize, start: i32, rows: &[Option<Row>]) -> (i32, i32) {
        let (_, to, link) = &self.links[n];
        let Some(row) = &rows[*to] else { return (NEVER, start) };
        let Some(link) = link else {
            // Both are done.
            let given = self.terms.open[*to][0].0;
            return (row.at(given), given);
        };
        let mut best = (NEVER, start);
        let (low, high) = (
            (start + link.earliest).max(row.first),
            start + link.latest.min(row.first + row.costs.len() as i32 - start),
        );
        for other in low..=high {
            let rest = row.at(other);
            if rest >= NEVER || rest >= best.0 {
                continue;
            }
            let has_room = self.holds[n].iter().all(|(hold, room)| {
                let hold = &self.blocks.holds[*hold];
                let (from, to) = hold.between(start, other);
                room.holds(from, to)
            });
            let cost = rest + link_cost(link, other - start);
            if has_room && cost < best.0 {
                best = (cost, other);
            }
        }
        best
    }

    /// What a block and what hangs on it cost, from those that hang on it.
    fn row(&self, block: usize, rows: &[Option<Row>], more: impl Fn(i32) -> i32) -> Row {
        let own = &self.own[block];
        let cost = |(n, own): (usize, &i32)| {
            if *own >= NEVER {
                return NEVER;
            }
            let start = self.own[block].first + n as i32;
            let mut sum = own + more(start);
            for child in &self.children[block] {
                let (cost, _) = self.best(*child, start, rows);
                if cost >= NEVER {
                    return NEVER;
                }
                sum += cost;
            }
            sum
        };
        Row { first: own.first, costs: own.costs.iter().enumerate().map(cost).collect() }
    }

    /// The starts of all blocks, once that of the first is known.
    fn starts(&self, first: i32, rows: &[Option<Row>]) -> Vec<i32> {
        let mut starts = vec![first; self.children.len()];
        for block in 0..starts.len() {
            for child in &self.children[block] {
                starts[self.links[*child].1] = self.best(*child, starts[block], rows).1;
            }
        }
        starts
    }
}

/// The best starts of a dough's blocks beside what stands, each by itself: where two of its own blocks want the same
/// hands it is only a bound. `None` where it has no plan.
pub(super) fn best(
    lane: usize,
    blocks: &Blocks,
    terms: &Terms,
    standing: Option<&Standing<'_>>,
) -> Option<Vec<i32>> {
    let count = blocks.blocks.len();
    let ready = terms.ready;
    let room_of = |from: usize, to: usize| -> Vec<(usize, RoomUntil)> {
        let between = blocks.holds.iter().enumerate();
        let between = between.filter(|(_, h)| (h.from.block, h.to.block) == (from, to));
        standing.map_or(Vec::new(), |s| between.map(|(n, h)| (n, s.has_room_until(h))).collect())
    };
    let own: Vec<Row> = (0..count)
        .map(|n| {
            let rooms = room_of(n, n);
            let open = &terms.open[n];
            let (first, last) = (open[0].0, open[open.len() - 1].0);
            let mut costs = vec![NEVER; (last - first + 1) as usize];
            for (start, spared) in open {
                let block = &blocks.blocks[n];
                let has_room = rooms.iter().all(|(hold, room)| {
                    let (from, to) = blocks.holds[*hold].between(*start, *start);
                    room.holds(from, to)
                });
                let fits = || standing.is_none_or(|s| s.fits(lane, block, *start));
                if blocks.given[n].is_none() && !(has_room && fits()) {
                    continue;
                }
                let mut cost = SPARED * spared;
                cost += standing.map_or(0, |s| HEATS * s.heats(lane, block, *start));
                if let Some(r) = ready.filter(|r| r.block == n) {
                    if !(r.low..=r.high).contains(start) {
                        continue;
                    }
                    cost += ready_cost(&r, *start);
                }
                costs[(start - first) as usize] = cost;
            }
            Row { first, costs }
        })
        .collect();
    let links: Vec<(usize, usize, Option<Link>)> =
        blocks.links.iter().zip(&terms.links).map(|(l, force)| (l.from, l.to, *force)).collect();
    let mut children = vec![Vec::new(); count];
    for (n, (from, ..)) in links.iter().enumerate() {
        children[*from].push(n);
    }
    let holds = links.iter().map(|(from, to, _)| room_of(*from, *to)).collect();
    let sum = Sum { terms, children, links, holds, blocks, own };
    // The way from the first block to the one that is ready: only there does the length of the whole count.
    let mut on_way = vec![false; count];
    if let Some(r) = ready {
        let mut at = r.block;
        on_way[at] = true;
        while let Some((from, ..)) = sum.links.iter().find(|(_, to, _)| *to == at) {
            at = *from;
            on_way[at] = true;
        }
    }
    let mut rows: Vec<Option<Row>> = (0..count).map(|_| None).collect();
    // A block hangs on one that came before it.
    for n in (0..count).rev().filter(|n| !on_way[*n] && *n > 0) {
        rows[n] = Some(sum.row(n, &rows, |_| 0));
    }
    let mut found: Option<(i32, Vec<i32>)> = None;
    // The length counts by quarters of an hour: the steps of the beginning are taken by their rest.
    for rest in 0..SPAN {
        for n in (1..count).rev().filter(|n| on_way[*n]) {
            let of_ready = |start: i32| match ready {
                Some(r) if r.block == n => -(rest - start).div_euclid(SPAN),
                _ => 0,
            };
            rows[n] = Some(sum.row(n, &rows, of_ready));
        }
        let ready_later = ready.is_some_and(|r| r.block != 0);
        let first = sum.row(0, &rows, |start| {
            let span = if ready_later { -(start - rest) / SPAN } else { 0 };
            span + terms.late.map_or(0, |length| quarters(length - start))
        });
        let steps = first.costs.iter().enumerate().map(|(n, cost)| (*cost, first.first + n as i32));
        let best = steps.filter(|(c, s)| *c < NEVER && s.rem_euclid(SPAN) == rest).min();
        if let Some((cost, start)) = best
            && found.as_ref().is_none_or(|(c, _)| cost < *c)
        {
            rows[0] = Some(first);
            found = Some((cost, sum.starts(start, &rows)));
        }
    }
    found.map(|(_, starts)| starts)
}
