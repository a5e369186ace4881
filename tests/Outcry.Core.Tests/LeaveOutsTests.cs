using Outcry.Core.Pages;

namespace Outcry.Core.Tests;

/// <summary>Pages that are usually left out are offered by their names.</summary>
public sealed class LeaveOutsTests
{
    [Fact]
    public void Offers_thank_you_account_and_legal_pages_and_nothing_else()
    {
        var found = LeaveOuts.Among([
            "/",
            "/shop",
            "/shop/thanksgiving-plate",
            "/workshops/raku/thank-you",
            "/account/orders",
            "/account",
            "/privacy",
        ]);

        Assert.Equal(
            [
                (LeaveOutSort.ThankYou, "/workshops/raku/thank-you"),
                (LeaveOutSort.Account, "/account/**"),
                (LeaveOutSort.Legal, "/privacy"),
            ],
            found.Select(f => (f.Sort, f.Pattern))
        );
        Assert.Equal(["/account/orders", "/account"], found[1].Pages);
    }

    [Fact]
    public void What_it_offers_means_exactly_the_pages_it_names()
    {
        string[] paths =
        [
            "/checkout",
            "/checkout/pay",
            "/de/danke",
            "/journal/paying-attention",
            "/terms-of-sale",
            "/basket-weaving",
        ];

        var found = LeaveOuts.Among(paths);

        foreach (var offer in found)
        {
            var pattern = PagePattern.Parse(offer.Pattern);
            Assert.Equal(offer.Pages, paths.Where(p => pattern.Matches(PageAddress.TryAt("pots.example", p)!)));
        }
        Assert.DoesNotContain(
            found,
            f => f.Pages.Contains("/journal/paying-attention") || f.Pages.Contains("/basket-weaving")
        );
    }

    [Fact]
    public void Names_a_page_once_even_where_two_names_fit()
    {
        var found = LeaveOuts.Among(["/account/thank-you"]);

        Assert.Equal(LeaveOutSort.ThankYou, Assert.Single(found).Sort);
    }
}
