//! One dough by itself, exactly: its blocks hang on each other as a tree, so that the best plan beside what stands
//! already is a sum over its branches, without a search.

use super::blocks::{Blocks, Link};
use super::standing::{RoomUntil, Standing};
use super::terms::{HEATS, SPAN, SPARED, Terms, quarters, ready_cost, weights};

/// More than any plan costs.
const NEVER: i32 = i32::MAX / 4;

/// What a block and all that hangs on it cost at least, by the step at which it begins.
struct Row {
    first: i32,
    costs: Vec<i32>,
}

impl Row {
    fn last(&self) -> i32 {
        self.first + self.costs.len() as i32 - 1
    }

    fn at(&self, step: i32) -> i32 {
        let n = step - self.first;
        if n < 0 { NEVER } else { self.costs.get(n as usize).copied().unwrap_or(NEVER) }
    }
}

/// The cheapest step of a stretch of which both ends only ever move on, where each later one costs more by a weight.
struct Stretch<'a> {
    row: &'a Row,
    weight: i32,
    /// What may still be the cheapest, with its step: each costs more than those before it.
    falling: Vec<(i32, i32)>,
    /// How many of those are behind the stretch.
    behind: usize,
    next: i32,
}

impl<'a> Stretch<'a> {
    fn of(row: &'a Row, weight: i32) -> Self {
        Stretch { row, weight, falling: Vec::with_capacity(row.costs.len()), behind: 0, next: row.first }
    }

    /// What the cheapest step of a stretch costs, and which it is: the first of several.
    fn least(&mut self, from: i32, to: i32) -> Option<(i32, i32)> {
        while self.next <= to {
            let step = self.next;
            self.next += 1;
            let cost = self.row.at(step);
            if cost >= NEVER {
                continue;
            }
            let cost = cost + self.weight * step;
            while self.falling.len() > self.behind && self.falling[self.falling.len() - 1].0 > cost {
                self.falling.pop();
            }
            self.falling.push((cost, step));
        }
        while self.falling.get(self.behind).is_some_and(|(_, step)| *step < from) {
            self.behind += 1;
        }
        self.falling.get(self.behind).copied()
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
    /// What each block costs with all that hangs on it, once that is known.
    rows: Vec<Option<Row>>,
    /// The best of each link, by the step at which its first block begins: what it costs, and where the other begins.
    best: Vec<Vec<(i32, i32)>>,
}

impl Sum<'_> {
    /// The best of a link, for each step at which its first block may begin.
    fn link(&self, n: usize) -> Vec<(i32, i32)> {
        let (from, to, link) = &self.links[n];
        let own = &self.own[*from];
        let starts = own.first..=own.last();
        let Some(row) = &self.rows[*to] else { return starts.map(|s| (NEVER, s)).collect() };
        let Some(link) = link else {
            // Both are done.
            let given = self.terms.open[*to][0].0;
            return starts.map(|_| (row.at(given), given)).collect();
        };
        let (sooner, later) = weights(link);
        let (mut before, mut after) = (Stretch::of(row, -sooner), Stretch::of(row, later));
        let mut all = Vec::with_capacity(own.costs.len());
        for start in starts {
            let (first, best) = (start + link.earliest, start + link.best);
            let mut last = (start + link.latest).min(row.last());
            for (hold, room) in &self.holds[n] {
                let (from, to) = self.blocks.holds[*hold].between(start, start);
                last = last.min(start + room.last(from) - to);
            }
            let left = before.least(first, last.min(best - 1)).map(|(c, s)| (c + sooner * best, s));
            let right = after.least(first.max(best), last).map(|(c, s)| (c - later * best, s));
            all.push(match (left, right) {
                (Some(left), Some(right)) => left.min(right),
                (left, right) => left.or(right).unwrap_or((NEVER, start)),
            });
        }
        all
    }

    /// What a block and what hangs on it cost, from those that hang on it.
    fn sum(&mut self, block: usize, more: impl Fn(i32) -> i32) {
        for n in 0..self.children[block].len() {
            let child = self.children[block][n];
            self.best[child] = self.link(child);
        }
        let own = &self.own[block];
        let cost = |(n, cost): (usize, &i32)| {
            let rest = self.children[block].iter().map(|child| self.best[*child][n].0);
            let all = rest.fold(*cost, |sum, c| if c >= NEVER || sum >= NEVER { NEVER } else { sum + c });
            if all >= NEVER { NEVER } else { all + more(own.first + n as i32) }
        };
        let costs = own.costs.iter().enumerate().map(cost).collect();
        self.rows[block] = Some(Row { first: own.first, costs });
    }

    /// The starts of all blocks, once that of the first is known.
    fn starts(&self, first: i32) -> Vec<i32> {
        let mut starts = vec![first; self.children.len()];
        for block in 0..starts.len() {
            let n = (starts[block] - self.own[block].first) as usize;
            for child in &self.children[block] {
                starts[self.links[*child].1] = self.best[*child][n].1;
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
    let best = vec![Vec::new(); links.len()];
    let rows = (0..count).map(|_| None).collect();
    let mut sum = Sum { terms, children, links, holds, blocks, own, rows, best };
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
    // A block hangs on one that came before it.
    for n in (0..count).rev().filter(|n| !on_way[*n] && *n > 0) {
        sum.sum(n, |_| 0);
    }
    let mut found: Option<(i32, Vec<i32>)> = None;
    // The length counts by quarters of an hour: the steps of the beginning are taken by their rest.
    for rest in 0..SPAN {
        for n in (1..count).rev().filter(|n| on_way[*n]) {
            sum.sum(n, |start| match ready {
                Some(r) if r.block == n => -(rest - start).div_euclid(SPAN),
                _ => 0,
            });
        }
        let ready_later = ready.is_some_and(|r| r.block != 0);
        sum.sum(0, |start| {
            let span = if ready_later { -(start - rest) / SPAN } else { 0 };
            span + terms.late.map_or(0, |length| quarters(length - start))
        });
        let Some(Row { first, costs }) = &sum.rows[0] else { continue };
        let steps = costs.iter().zip(*first..).map(|(cost, step)| (*cost, step));
        let best = steps.filter(|(c, s)| *c < NEVER && s.rem_euclid(SPAN) == rest).min();
        if let Some((cost, start)) = best
            && found.as_ref().is_none_or(|(c, _)| cost < *c)
        {
            found = Some((cost, sum.starts(start)));
        }
    }
    found.map(|(_, starts)| starts)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::collection::vec;
    use proptest::prelude::*;

    proptest! {
        /// The cheapest of a stretch that moves on is that of its steps, the first of several; a step at which nothing
        /// may begin is passed over.
        #[test]
        fn the_cheapest_of_a_stretch_is_that_of_its_steps(
            costs in vec(prop_oneof![4 => 0..20i32, 1 => Just(NEVER)], 1..40),
            weight in -3..4i32,
            moves in vec((0..4i32, 0..4i32), 1..40),
        ) {
            let row = Row { first: 0, costs };
            let mut stretch = Stretch::of(&row, weight);
            let (mut from, mut to) = (0, 0);
            for (first, last) in moves {
                (from, to) = (from + first, to + last);
                let open = (from..=to).filter(|s| row.at(*s) < NEVER);
                let naive = open.map(|s| (row.at(s) + weight * s, s)).min();
                prop_assert_eq!(stretch.least(from, to), naive);
            }
        }
    }
}
