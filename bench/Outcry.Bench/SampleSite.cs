using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;

namespace Outcry.Bench;

/// <summary>Two hundred live callouts over a site of forty page groups, five on each: what a large team has.</summary>
internal static class SampleSite
{
    public const int Callouts = 200;
    public const int PageGroups = 40;

    public static Brief Brief(int number, Guid source, int groups = PageGroups) =>
        StarterBrief.Moment(EventKind.Purchase, [source]) with
        {
            Where = new WhereFacet(
                [$"/group-{number % groups}/**"],
                [$"/group-{number % groups}/quiet"],
                [],
                Replaces: false
            ),
            When = StarterBrief.Moment(EventKind.Purchase, [source]).When with
            {
                Triggers = [Trigger.After(number % 30)],
                Turns = 1 + number % 3,
            },
            Priority = 1 + number % 9,
        };

    public static List<LedgerEvent> Events(Guid source, Instant now) =>
        [
            .. Enumerable
                .Range(0, 500)
                .Select(i => new LedgerEvent
                {
                    Id = Guid.CreateVersion7(),
                    SourceId = source,
                    Kind = EventKind.Purchase,
                    At = now - Duration.FromMinutes(i + 1),
                    Name = new PersonName("Noor", "H"),
                    Place = new Place("Leeds", "Yorkshire", "England"),
                    PersonKey = $"p{i}",
                    VisitorId = $"v{i}",
                    Product = new EventProduct(
                        "Ash-glaze mug",
                        "http://pots.test/shop/mug",
                        "http://pots.test/img/mug.svg",
                        "Mugs"
                    ),
                }),
        ];
}
