using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Rehearsing;
using Outcry.Core.Visitors;

namespace Outcry.Server.RunSheet;

/// <summary>The visitor a rehearsal imagines.</summary>
internal enum Persona
{
    /// <summary>Has never been here.</summary>
    New,

    /// <summary>Was here a day ago and met everything then.</summary>
    BackAfterADay,

    /// <summary>Closed a callout an hour ago.</summary>
    ClosedOne,
}

/// <summary>Plays two minutes of a persona on one page.</summary>
internal static class PersonaRehearsal
{
    public static Duration Stay { get; } = Duration.FromMinutes(2);

    public static RehearsedPage Play(SiteSnapshot site, PageAddress page, Persona persona, Instant now)
    {
        var visitor = Imagine(site, persona, now);
        var (pages, _) = Rehearsal.Play(
            site,
            visitor,
            VisitorFacts.Unknown,
            [JourneyPage.Reading(page, Stay)],
            now,
            PlanOptions.Explained
        );
        return pages[0];
    }

    private static VisitorRecord Imagine(SiteSnapshot site, Persona persona, Instant now)
    {
        const string nobody = "rehearsal";
        var before = persona == Persona.ClosedOne ? Duration.FromHours(1) : Duration.FromHours(24);
        var visitor = VisitorRecord.New(nobody, now);
        if (persona == Persona.New || site.Callouts.Count == 0)
            return visitor;
        visitor = VisitorRecord.New(nobody, now - before).Arrive(now - before);
        foreach (var callout in persona == Persona.ClosedOne ? site.Callouts.Take(1) : site.Callouts)
            visitor = visitor.Started(callout.Id, now - before, takesBudget: true).Ended(now - before);
        return persona == Persona.ClosedOne
            ? visitor.Closed(site.Callouts[0].Id, now - before, site.Callouts[0].Hush, dialogsOnly: false)
            : visitor;
    }
}
