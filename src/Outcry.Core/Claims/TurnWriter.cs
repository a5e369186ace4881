using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;

namespace Outcry.Core.Claims;

/// <summary>Words what a callout tells.</summary>
internal static class TurnWriter
{
    /// <summary>Words one event.</summary>
    public static PreparedTurn Event(
        SayFacet say,
        SpokenWording wording,
        LedgerEvent happened,
        DisplayPolicy display,
        PlaceCrowd crowd,
        Instant now,
        DateTimeZone zone
    )
    {
        var voice = wording.Voice;
        var values = EventTokens.Read(happened, display, crowd, now, voice);
        if (say.Number != NumberStyle.Exact)
            foreach (var field in (string[])[EventFields.Left, EventFields.Total])
                if (values.Numbers.GetValueOrDefault(values.GetValueOrDefault(field, "")) is var number and > 0)
                    values.SetNumber(field, number, Said(number, say.Number, voice));
        var named = display.Name != NameStyle.Hidden;
        return Write(say, wording, values) with
        {
            Event = happened,
            Meta = Age(say.Time, happened.At, now, zone, voice),
            Picture = say.Picture switch
            {
                SayPicture.Product => SafeLink.TryPassPicture(happened.Product?.Picture),
                SayPicture.Map => MapOf(happened.Place, display, crowd),
                _ => PictureOf(say),
            },
            Initials =
                say.Picture is SayPicture.Product or SayPicture.Initials or SayPicture.Map && named
                    ? happened.Name.Initials
                    : "",
            Link = LinkOf(say, happened.Product?.Address),
        };
    }

    /// <summary>Words a count.</summary>
    /// <param name="say">What it says.</param>
    /// <param name="wording">In which words.</param>
    /// <param name="number">The count, as far as the reader is told of it.</param>
    /// <param name="stretch">The stretch it covers.</param>
    public static PreparedTurn Count(SayFacet say, SpokenWording wording, int number, Stretch stretch)
    {
        var voice = wording.Voice;
        var values = new TokenValues { [CountTokens.Period] = stretch.Say(voice) };
        var told = say.Number == NumberStyle.Rounded ? (int)Rounding.Down(number) : number;
        values.SetNumber(CountTokens.Number, told, Said(number, say.Number, voice));
        return Write(say, wording, values) with { Link = LinkOf(say, null), Picture = PictureOf(say) };
    }

    /// <summary>Words a notice.</summary>
    public static PreparedTurn Notice(SayFacet say, SpokenWording wording, Instant? target, Instant now)
    {
        var values = new TokenValues
        {
            [Countdown.Token] = target is { } at ? Countdown.Say(at - now, wording.Voice) : "",
            [CountTokens.Code] = say.Code,
        };
        return Write(say, wording, values) with
        {
            Link = LinkOf(say, null),
            Picture = PictureOf(say),
            CountdownTo = target,
            Countdown = target is null ? null : values[Countdown.Token],
        };
    }

    /// <summary>How a number is said: as it is, rounded down with "+", or not at all.</summary>
    public static string Said(decimal number, NumberStyle style, Voice voice) =>
        style switch
        {
            NumberStyle.Exact => Figures.Number(number, voice.Culture),
            NumberStyle.Rounded => Rounding.Down(number) == number && number < 10
                ? Figures.Number(number, voice.Culture)
                : Figures.Number(Rounding.Down(number), voice.Culture) + "+",
            _ => "",
        };

    private static PreparedTurn Write(SayFacet say, SpokenWording wording, TokenValues values) =>
        new(
            null,
            wording.Message.Render(values, wording.Voice),
            wording.Detail?.Render(values, wording.Voice) ?? [],
            say.Link == LinkTarget.None ? "" : wording.Button,
            "",
            null,
            "",
            null,
            null,
            wording.Voice
        );

    private static string Age(TimeStyle style, Instant at, Instant now, DateTimeZone zone, Voice voice) =>
        style switch
        {
            TimeStyle.Hidden => "",
            TimeStyle.Rough => RelativeTime.Rough(now - at, voice, capital: true),
            TimeStyle.Clock12 or TimeStyle.Clock24 when now - at < Duration.FromDays(1) => Figures.Clock(
                at.InZone(zone).TimeOfDay,
                style == TimeStyle.Clock12,
                voice.Culture
            ),
            _ => RelativeTime.Ago(now - at, voice, capital: true),
        };

    private static string? PictureOf(SayFacet say) =>
        say.Picture == SayPicture.Image ? SafeLink.TryPassPicture(say.PictureAddress) : null;

    // Where not even the country may be told, no map may tell it.
    private static string? MapOf(Place place, DisplayPolicy display, PlaceCrowd crowd) =>
        crowd.FinestLevel(place, display.Place) == PlaceLevel.None ? null : CountryMap.Of(place.Country);

    private static string? LinkOf(SayFacet say, string? product)
    {
        var link = say.Link switch
        {
            LinkTarget.Product => SafeLink.TryPass(product),
            LinkTarget.Address => SafeLink.TryPass(say.LinkAddress),
            _ => null,
        };
        return link is null ? null : CampaignLink.Mark(link, say.Campaign);
    }
}
