using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

/// <summary>A callout that draws on a source.</summary>
internal sealed record DependentView(Guid Id, string Name, DefinitionState State);

/// <summary>A source with its health and all it is set to.</summary>
/// <param name="Condition">How it stands.</param>
/// <param name="Hours">Events in each of the last 24 hours, the oldest first.</param>
/// <param name="UsualDay">Events of a usual day, over the four weeks before: the median.</param>
/// <param name="Address">Where a webhook is posted to.</param>
/// <param name="Secret">Signing secret, for owners only.</param>
/// <param name="OldSecretUntil">Until when the secret before it still holds.</param>
/// <param name="Tokens">Tokens its events offer a message.</param>
/// <param name="Fields">Fields that conditions can look at.</param>
/// <param name="OwnFields">Fields of its own that may be shown if allowed.</param>
internal sealed record SourceView(
    Guid Id,
    string Name,
    SourceKind Kind,
    EventKind EventKind,
    Instant CreatedAt,
    Instant? PausedAt,
    SourceCondition Condition,
    Instant? LastEventAt,
    int EventsLastDay,
    IReadOnlyList<int> Hours,
    double? UsualDay,
    int Waiting,
    Instant? RefusedAt,
    string? RefusedBecause,
    Instant? PolledAt,
    string? Address,
    string? Secret,
    PostingProof Proof,
    Instant? OldSecretUntil,
    FormMapping? Form,
    EventMap? Map,
    Polling? Poll,
    ScriptRules? Script,
    SourceRules Rules,
    DisplayPolicy Display,
    IReadOnlyList<string> Tokens,
    IReadOnlyList<string> Fields,
    IReadOnlyList<string> OwnFields,
    IReadOnlyList<DependentView> Dependents
);

/// <summary>What is set of a source, beside its name.</summary>
internal sealed record SourceSettings(
    FormMapping? Form = null,
    EventMap? Map = null,
    Polling? Poll = null,
    ScriptRules? Script = null,
    SourceRules? Rules = null,
    DisplayPolicy? Display = null,
    PostingProof? Proof = null
);

/// <summary>Checks what a member sets of a source, in words for that member.</summary>
internal static class SourceCheck
{
    private const int LongestName = 80;
    private const int LongestSelector = 200;

    /// <summary>What stands in the way, or null.</summary>
    public static ProblemHttpResult? Objection(string name, SourceKind kind, EventKind eventKind, SourceSettings set)
    {
        if (name.Trim().Length is 0 or > LongestName)
            return Problems.BadField("name", $"Give the source a name of 1 to {LongestName} characters.");
        return Form(kind, set.Form)
            ?? Map(kind, eventKind, set)
            ?? Poll(kind, set.Poll)
            ?? Script(kind, set.Script)
            ?? Rules(set.Rules)
            ?? Display(set, eventKind);
    }

    private static ProblemHttpResult? Form(SourceKind kind, FormMapping? form)
    {
        if (kind != SourceKind.SiteForm)
            return form is null ? null : Problems.BadField("form", "Only a site form has a form.");
        if (form is null || form.Form.Trim().Length == 0)
            return Problems.BadField("form.form", "Choose the form: from the list, or by its id or name.");
        if (form.Pages.FirstOrDefault(p => Core.Pages.PagePattern.TryParse(p, out _) is null) is { } bad)
            return Problems.BadField(
                "form.pages",
                $"{bad} is no page pattern. Write a path such as /quote or /shop/*."
            );
        if (form.Wanted.FirstOrDefault(f => !SafeField.MayLeave(f, "text", "")) is { } secret)
            return Problems.BadField(
                "form.fields",
                $"\"{secret}\" looks like a password or card field. Such fields never leave the page."
            );
        if (form.Currency is { Length: > 0 } code && !Currency.IsKnown(code))
            return Problems.BadField("form.currency", $"\"{code}\" is no ISO 4217 currency code.");
        if (form.Amount is not null && string.IsNullOrEmpty(form.Currency))
            return Problems.BadField("form.currency", "Say in which currency the amount is, such as GBP.");
        if (form.Promise is { } promise && Promise(form, promise) is { } objection)
            return objection;
        return form.Success switch
        {
            { Sign: SuccessSign.Page, Target: var page }
                when Core.Pages.PagePattern.TryParse(page, out var error) is null => Problems.BadField(
                "form.success",
                error
            ),
            { Sign: SuccessSign.Element, Target: var element } when element.Trim().Length is 0 or > LongestSelector =>
                Problems.BadField(
                    "form.success",
                    "Name the element that shows that it went through, by a CSS selector such as .thanks."
                ),
            _ => null,
        };
    }

    private static ProblemHttpResult? Promise(FormMapping form, FormPromise promise) =>
        promise.Text.Trim().Length is 0 or > FormPromise.LongestText
            ? Problems.BadField(
                "form.promise.text",
                $"Write what they agree to, as it stands at the form: 1 to {FormPromise.LongestText} characters."
            )
        : form is { Email: null, Phone: null }
            ? Problems.BadField(
                "form.promise",
                "Leads need an e-mail address or a phone number: say which field has it."
            )
        : promise.Tags.Count > 10 || promise.Tags.Any(t => t.Trim().Length is 0 or > 30)
            ? Problems.BadField("form.promise.tags", "At most 10 tags of 30 characters.")
        : null;

    private static ProblemHttpResult? Map(SourceKind kind, EventKind eventKind, SourceSettings set)
    {
        if (set.Map is not { } map)
            return null;
        if (kind is SourceKind.SiteForm or SourceKind.PageScript or SourceKind.ByHand)
            return Problems.BadField("map", "This sort of source has no map.");
        if ((map with { Kind = eventKind }).Fault() is { } fault)
            return Problems.BadField("map", fault);
        var isJson = kind == SourceKind.SignedWebhook || set.Poll?.Format is PollFormat.Json or PollFormat.NdJson;
        return
            isJson
            && map.Places.Values.Concat(map.Fields.Values).FirstOrDefault(p => p.Length > 0 && !JsonPlaces.IsPointer(p))
                is { } bad
            ? Problems.BadField("map", $"\"{bad}\" is no JSON Pointer. Write it as in /customer/first_name.")
            : null;
    }

    private static ProblemHttpResult? Poll(SourceKind kind, Polling? poll)
    {
        var fetches = kind is SourceKind.ReviewList or SourceKind.ProfileTotals or SourceKind.Feed;
        if (!fetches)
            return poll is null ? null : Problems.BadField("poll", "This sort of source fetches nothing.");
        if (
            poll is null
            || !Uri.TryCreate(poll.Address, UriKind.Absolute, out var at)
            || at.Scheme is not ("http" or "https")
        )
            return Problems.BadField("poll.address", "Write the address to fetch, with https:// at its beginning.");
        if (poll.EveryMinutes is < 5 or > 1_440)
            return Problems.BadField("poll.everyMinutes", "Between every 5 minutes and once a day.");
        if (poll.Most is < 1 or > 500)
            return Problems.BadField("poll.most", "Between 1 and 500 items of one answer.");
        if ((kind == SourceKind.Feed) != (poll.Format == PollFormat.Feed))
            return Problems.BadField("poll.format", "A feed is RSS or Atom, and nothing else is.");
        return poll.ListPointer.Length > 0 && !JsonPlaces.IsPointer(poll.ListPointer)
            ? Problems.BadField("poll.listPointer", "This is no JSON Pointer. Write it as in /data/reviews.")
            : null;
    }

    private static ProblemHttpResult? Script(SourceKind kind, ScriptRules? script)
    {
        if (kind != SourceKind.PageScript)
            return script is null ? null : Problems.BadField("script", "Only a page script has script rules.");
        if (script is null)
            return Problems.BadField("script", "Say what the page may report.");
        if (script.Names.Count > 50 || script.Names.Any(n => n.Trim().Length is 0 or > 60))
            return Problems.BadField("script.names", "At most 50 names of 1 to 60 characters.");
        return script.BasketSelector.Length > LongestSelector || script.ProductSelector.Length > LongestSelector
            ? Problems.BadField("script.basketSelector", $"A selector has at most {LongestSelector} characters.")
            : null;
    }

    private static ProblemHttpResult? Rules(SourceRules? rules)
    {
        if (rules is null)
            return null;
        if (rules.Conditions.Count > 20)
            return Problems.BadField("rules.conditions", "At most 20 conditions.");
        if (
            rules.Conditions.Any(c => c.Field.Length == 0 || (c.Comparison != Comparison.Filled && c.Value.Length == 0))
        )
            return Problems.BadField(
                "rules.conditions",
                "A condition is not finished. Choose a field and what it is compared with, or remove it."
            );
        return rules.LeastStars is < 0 or > 5 ? Problems.BadField("rules.leastStars", "Between 0 and 5 stars.") : null;
    }

    private static ProblemHttpResult? Display(SourceSettings set, EventKind eventKind)
    {
        if (set.Display is not { } display)
            return null;
        var own = OwnFields(eventKind, set, display);
        return display.ShownFields.FirstOrDefault(f => !own.Contains(f)) is { } unknown
            ? Problems.BadField("display.shownFields", $"The source has no field \"{unknown}\".")
            : null;
    }

    /// <summary>Fields that a source has besides those every event has.</summary>
    public static IReadOnlyList<string> OwnFields(EventKind eventKind, SourceSettings set, DisplayPolicy display) =>
        [
            .. EventFields
                .OfKind(eventKind)
                .Concat(set.Form?.Fields ?? [])
                .Concat(set.Map?.Fields.Keys ?? [])
                // What a script reports is known only from what it was told to keep.
                .Concat(set.Script is null ? [] : display.ShownFields)
                .Distinct(),
        ];
}
