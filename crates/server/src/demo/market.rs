//! The market of the demo: who else crosses the Sound, and what was noted of them from their pages.

use iron_kite_core::decide::Offers;
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{CapabilityId, CompetitorId, FoundPageId, ProductId, Thing};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::decide::{self, NewCapability, NewCompetitor, NewFoundPage, NewMarketNote};
use iron_kite_ops::things::{self, LinkEnds};
use serde::Deserialize;

use super::{Player, internal, made};

const PAGES: &str = include_str!("../../../../demo/library-pages.json");

#[derive(Deserialize)]
pub(super) struct DemoMarket {
    /// Name and address.
    competitors: Vec<(String, String)>,
    capabilities: Vec<DemoCapability>,
}

#[derive(Deserialize)]
struct DemoCapability {
    title: String,
    offers: Option<Offers>,
    note: Option<String>,
    /// Ideas that close it, by their titles.
    #[serde(default)]
    ideas: Vec<String>,
    /// Competitor, how far it does it, and words of one of its pages.
    #[serde(default)]
    notes: Vec<(String, Option<Offers>, String)>,
}

#[derive(Deserialize)]
struct LibraryPage {
    title: String,
    address: String,
    page: String,
}

impl Player<'_> {
    /// Keeps some of the library's pages, and notes what stands in them.
    pub(super) fn market(&mut self, product: ProductId, market: DemoMarket) -> Result<(), Problem> {
        let pages = self.pages(product, &market.competitors)?;
        for demo in market.capabilities {
            let new = NewCapability { product_id: product, title: demo.title, offers: demo.offers, note: demo.note };
            let capability = CapabilityId(made(&decide::add_capability(self.app, &self.call, new)?)?.id);
            for idea in demo.ideas {
                let ends = LinkEnds { kind: LinkKind::Closes, from: self.thing(&idea)?, to: capability.thing() };
                things::link(self.app, &self.call, ends)?;
            }
            for (competitor, offers, words) in demo.notes {
                let (_, page) = pages.iter().find(|(text, _)| text.contains(&words)).ok_or_else(|| internal(&words))?;
                let note = NewMarketNote {
                    competitor_id: CompetitorId(self.thing(&competitor)?.id),
                    capability_id: Some(capability),
                    offers,
                    words,
                    page_id: Some(*page),
                    source: None,
                    noted_on: None,
                };
                decide::add_market_note(self.app, &self.call, note)?;
            }
        }
        Ok(())
    }

    /// The pages of the competitors, each with its text.
    fn pages(
        &mut self,
        product: ProductId,
        competitors: &[(String, String)],
    ) -> Result<Vec<(String, FoundPageId)>, Problem> {
        let library: Vec<LibraryPage> = serde_json::from_str(PAGES).map_err(|fault| internal(&fault.to_string()))?;
        let mut pages = Vec::new();
        for (name, address) in competitors {
            let new = NewCompetitor { product_id: product, name: name.clone(), address: Some(address.clone()) };
            let competitor: Thing = made(&decide::add_competitor(self.app, &self.call, new)?)?;
            self.keys.insert(name.clone(), competitor);
            for page in library.iter().filter(|page| page.address.starts_with(address)) {
                let read = decide::page_of_file(self.app, &self.call, "page.html", page.page.as_bytes())?;
                let new = NewFoundPage {
                    product_id: product,
                    competitor_id: Some(CompetitorId(competitor.id)),
                    title: page.title.clone(),
                    address: Some(page.address.clone()),
                    text: read.text.clone(),
                };
                let id = FoundPageId(made(&decide::add_page(self.app, &self.call, new)?)?.id);
                pages.push((read.text, id));
            }
        }
        Ok(pages)
    }
}
