using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Rehearsing;
using Outcry.Core.Visitors;
using Outcry.Server.Intake;
using Outcry.Server.Passports;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Standins.Site;
using Outcry.Store.Rows;
using Outcry.Store.Signals;

namespace Outcry.Standins.Seed;

/// <summary>Walks simulated visitors through the past, with the planner, the intake and the signal log that serve real ones.</summary>
internal sealed class PastMaker(
    SeedClock clock,
    LiveSites sites,
    WebhookIntake webhooks,
    FormCapture forms,
    SignalCopy signals,
    Definitions definitions,
    Catalogue goods,
    string siteAddress,
    Random chance
)
{
    private const int TraitsSeed = 1_407;
    private const double ClosesShown = 0.05;
    private const double ClicksShown = 0.06;

    private readonly List<VisitorRecord> _known = [];
    private readonly List<Signal> _lot = [];

    // A source of chance of its own, so that who comes and what they do stays as it is whatever else is drawn.
    private readonly Traits _traits = new(new Random(TraitsSeed));

    public int Visits { get; private set; }
    public int Events { get; private set; }
    public int Shown { get; private set; }

    /// <summary>Plays one day's visits, in order of time.</summary>
    public async Task PlayDayAsync(Instant midnight, Instant until, int visits)
    {
        var walker = new Walker(goods, new Uri(siteAddress).Authority, chance);
        foreach (var at in Arrivals(midnight, visits).Where(a => a < until).Order())
        {
            clock.Now = at;
            var site = sites.GetById(definitions.Site.Id);
            site.Refresh(at, evenIfNothingCame: Visits % 25 == 0);
            await PlayVisitAsync(site, walker.Draw(), at, until);
        }
        await FlushAsync();
    }

    private async Task PlayVisitAsync(LiveSite site, Walk walk, Instant at, Instant until)
    {
        Visits++;
        var returning = _known.Count > 50 && chance.NextDouble() < 0.3;
        var place = returning ? chance.Next(_known.Count) : -1;
        var visitor = returning ? _known[place] : Passport.New(at, isMember: false);
        var facts = _traits.Of(visitor.VisitorId);
        var scrolled = walk.Pages.Select(_traits.Scroll).ToList();
        var cameBy = _traits.WayIn();
        var (pages, after) = Play(site, visitor, facts, [.. scrolled.Select(s => s.Page with { CameBy = cameBy })], at);
        var now = at;
        for (var i = 0; i < pages.Count; i++)
        {
            var page = pages[i];
            Note(site, page, after, now, facts.Device, scrolled[i].Depth, i == 0 ? TraitsOf(facts, cameBy) : null);
            now += Duration.FromMilliseconds(page.Page.StayMs);
        }
        if (returning)
            _known[place] = after;
        else
            _known.Add(after);
        if (walk.Deed != Deed.None && now < until)
            await DoAsync(site, walk, after.VisitorId, now);
    }

    // First played without acts to learn what is met when; then again with what this visitor does about it.
    private (IReadOnlyList<RehearsedPage> Pages, VisitorRecord After) Play(
        LiveSite site,
        VisitorRecord visitor,
        VisitorFacts facts,
        IReadOnlyList<JourneyPage> walk,
        Instant at
    )
    {
        var (met, _) = Rehearsal.Play(site.Snapshot, visitor, facts, walk, at, PlanOptions.Live);
        var acted = met.Select(p =>
            p.Page with
            {
                Acts = [.. p.Page.Acts, .. p.Outcome.Showings.Select(React).OfType<Act>().Take(1)],
            }
        );
        return Rehearsal.Play(site.Snapshot, visitor, facts, acted, at, PlanOptions.Live);
    }

    private static VisitTraits TraitsOf(VisitorFacts facts, WayIn cameBy) =>
        new(
            facts.Languages,
            facts.Place.Country,
            facts.Place.Region,
            facts.Place.City,
            cameBy.Referrer,
            cameBy.Campaign
        );

    private Act? React(Showing shown)
    {
        var length = shown.EndMs - shown.StartMs;
        if (length < 2_500)
            return null;
        var roll = chance.NextDouble();
        var kind =
            roll < ClosesShown ? ActKind.Close
            : roll < ClosesShown + ClicksShown ? ActKind.Click
            : (ActKind?)null;
        return kind is { } k ? new Act(shown.StartMs + length / 2, k, shown.Callout) : null;
    }

    private void Note(
        LiveSite site,
        RehearsedPage page,
        VisitorRecord visitor,
        Instant at,
        Device device,
        int depth,
        VisitTraits? traits
    )
    {
        void Add(SignalKind kind, long afterMs, int value = 0, Guid? callout = null)
        {
            var when = at + Duration.FromMilliseconds(afterMs);
            _lot.Add(
                new Signal(
                    Guid.CreateVersion7(when.ToDateTimeOffset()),
                    site.Id,
                    when,
                    kind,
                    visitor.VisitorId,
                    visitor.Visit.Number,
                    page.Page.Page.Path,
                    callout,
                    value,
                    (short)device
                )
                {
                    Traits = kind == SignalKind.View ? traits : null,
                }
            );
        }
        Add(SignalKind.View, 0);
        Add(SignalKind.Left, page.Page.StayMs, (int)page.Page.StayMs);
        Add(SignalKind.Depth, page.Page.StayMs, depth);
        foreach (var shown in page.Outcome.Showings)
        {
            if (shown.IsFirst && shown.EndMs - shown.StartMs >= 1000)
            {
                Add(SignalKind.Shown, shown.StartMs + 1000, callout: shown.Callout);
                Shown++;
            }
            if (shown.EndedBy is EndedBy.Closed or EndedBy.Clicked)
                Add(
                    shown.EndedBy == EndedBy.Closed ? SignalKind.Closed : SignalKind.Clicked,
                    shown.EndMs,
                    callout: shown.Callout
                );
            if (shown.EndedBy == EndedBy.Clicked && GreetedBy(site, shown.Callout) is { } launcher)
                Add(SignalKind.Clicked, shown.EndMs + 4_000, callout: TakenChannel(launcher));
        }
    }

    private static Launcher? GreetedBy(LiveSite site, Guid callout) =>
        site.Launchers.FirstOrDefault(l => l.Greetings.Any(g => g.Id == callout));

    // Most write on the page; who does not takes another way.
    private Guid TakenChannel(Launcher launcher)
    {
        var channels = launcher.Brief.Channels;
        return channels[_ways.NextDouble() < 0.6 ? 0 : _ways.Next(channels.Count)].Id;
    }

    // A source of chance of its own, as for traits.
    private readonly Random _ways = new(TraitsSeed + 1);

    private async Task FlushAsync()
    {
        if (_lot.Count > 0)
            await signals.WriteAsync(_lot, CancellationToken.None);
        _lot.Clear();
    }

    private async Task DoAsync(LiveSite site, Walk walk, string visitorId, Instant at)
    {
        clock.Now = at;
        Events++;
        var buyer = People.Draw(chance);
        switch (walk.Deed)
        {
            case Deed.Buys or Deed.Books:
                await ReportAsync(walk, buyer, visitorId, at);
                break;
            case Deed.JoinsLetters:
                // Many leave the name empty, as people do.
                var name = chance.NextDouble() < 0.7 ? buyer.FirstName : "";
                await SubmitAsync(
                    site,
                    definitions.Newsletter,
                    "/",
                    visitorId,
                    at,
                    new() { ["first_name"] = name, ["email"] = buyer.Email }
                );
                break;
            case Deed.AsksForQuote:
                await SubmitAsync(
                    site,
                    definitions.Quote,
                    "/quote",
                    visitorId,
                    at,
                    new()
                    {
                        ["name"] = $"{buyer.FirstName} {buyer.LastName}",
                        ["email"] = buyer.Email,
                        ["piece"] = chance.NextDouble() < 0.5 ? "Dinner set" : "Tiles",
                        ["pieces"] = $"{chance.Next(2, 13) * 4}",
                    }
                );
                break;
        }
    }

    private async Task ReportAsync(Walk walk, Buyer buyer, string visitorId, Instant at)
    {
        var order = new Order(
            Guid.CreateVersion7(at.ToDateTimeOffset()).ToString("N"),
            at.ToDateTimeOffset(),
            buyer,
            walk.About!,
            walk.Deed == Deed.Books ? "booking" : "purchase",
            visitorId,
            siteAddress,
            goods.PathOf(walk.About!)
        );
        var body = order.ToCloudEvent();
        var id = $"msg_{order.Id}";
        var seconds = at.ToUnixTimeSeconds();
        var signature = StandardWebhooks.Sign(definitions.Checkout.Secret!, id, seconds, body);
        var message = new WebhookMessage(id, $"{seconds}", signature, "application/cloudevents+json", body);
        var answer = await webhooks.AcceptAsync(definitions.Checkout, message, at, CancellationToken.None);
        if (answer is not IStatusCodeHttpResult { StatusCode: StatusCodes.Status202Accepted })
            throw new InvalidOperationException($"The seed's own order was refused: {answer}");
    }

    private async Task SubmitAsync(
        LiveSite site,
        SourceRow source,
        string path,
        string visitorId,
        Instant at,
        Dictionary<string, string> fields
    )
    {
        var form = new FormSubmission(Guid.CreateVersion7(at.ToDateTimeOffset()), source.Id, fields);
        if (
            await forms.TakeAsync(
                site,
                form,
                siteAddress + path,
                new PageActor(
                    visitorId,
                    IsOwn: false,
                    PrivacyControl: false,
                    People.DrawPlace(chance),
                    Block: visitorId
                ),
                desk: "",
                at,
                CancellationToken.None
            ) is
            { } refused
        )
            throw new InvalidOperationException(refused.ProblemDetails.Detail);
    }

    // Most come between morning and late evening, with a peak after lunch; a few at any hour, from other time zones.
    private IEnumerable<Instant> Arrivals(Instant midnight, int visits)
    {
        for (var i = 0; i < visits; i++)
        {
            var hour =
                chance.NextDouble() < 0.4
                    ? chance.NextDouble() * 24
                    : 6 + (chance.NextDouble() + chance.NextDouble()) * 9;
            yield return midnight + Duration.FromHours(hour);
        }
    }
}
