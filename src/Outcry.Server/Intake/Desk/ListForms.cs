using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Sources;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

/// <summary>A form that stands on the site.</summary>
/// <param name="Guess">What its fields probably mean.</param>
/// <param name="Takes">The source that listens to it; null when none does.</param>
/// <param name="Sent">How often it was sent while none did, as far as that is kept; on all its pages together.</param>
/// <param name="SentSince">When the first of those was sent; null for none.</param>
internal sealed record FoundFormView(
    string Key,
    string Path,
    IReadOnlyList<FoundFieldView> Fields,
    FormMapping Guess,
    Guid? Takes,
    Instant LastAt,
    int Sent,
    Instant? SentSince
);

/// <param name="MayLeave">False for passwords, card fields and the like.</param>
internal sealed record FoundFieldView(string Name, string Type, string Label, bool MayLeave);

internal sealed record FindFormsRequest(string Address);

/// <param name="Fault">Why the page could not be looked at; null when it could.</param>
internal sealed record FoundFormsView(
    IReadOnlyList<FoundFormView> Forms,
    string? Fault,
    IReadOnlyList<string> ScriptNames
);

/// <summary>Forms that the snippet met or that a page holds, so that a marketer picks one and never has to read its code.</summary>
internal static class ListForms
{
    public static async Task<Ok<FoundFormsView>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        LiveSites sites,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var rows = await db
            .FoundForms.AsNoTracking()
            .Where(f => f.SiteId == siteId)
            .OrderByDescending(f => f.LastAt)
            .ToListAsync(stop);
        var sends = await SendsAsync(db, siteId, stop);
        return TypedResults.Ok(
            new FoundFormsView([.. rows.Select(f => View(f, site, sends))], null, site.Hearing.Unclaimed)
        );
    }

    public static async Task<Results<Ok<FoundFormsView>, ProblemHttpResult>> FindAsync(
        Guid siteId,
        FindFormsRequest request,
        OutcryDb db,
        LiveSites sites,
        SafeFetch fetch,
        FoundForms forms,
        IClock clock,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        if (PageAddress.TryParse(request.Address) is not { } page || !site.Allows(page.Host))
            return Problems.BadField(
                "address",
                $"Write the address of a page of this site, on {string.Join(" or ", site.AllowedHosts)}."
            );
        var fetched = await fetch.GetAsync(request.Address, stop);
        if (fetched.Fault is { } fault)
            return TypedResults.Ok(new FoundFormsView([], fault, []));
        var now = clock.GetCurrentInstant();
        var sends = await SendsAsync(db, siteId, stop);
        var found = new HtmlParser()
            .ParseDocument(fetched.Text)
            .Forms.Select(Read)
            .Where(f => f.Fields.Count > 0)
            .ToList();
        foreach (var (key, fields) in found)
            await forms.KeepAsync(site, key, page.Path, fields, now, stop);
        return TypedResults.Ok(
            new FoundFormsView(
                [
                    .. found.Select(f =>
                        View(
                            new FoundFormRow
                            {
                                Key = f.Key,
                                Path = page.Path,
                                Fields = f.Fields,
                                LastAt = now,
                            },
                            site,
                            sends
                        )
                    ),
                ],
                found.Count == 0
                    ? "No form stands in this page as the server sends it. If one is added later by a script, open the page in a browser: the snippet reports it."
                    : null,
                []
            )
        );
    }

    // The same key as the snippet makes: the id, else the name, else what its fields are called.
    private static (string Key, List<FoundField> Fields) Read(IHtmlFormElement form)
    {
        var fields = form
            .Elements.Where(e => e.GetAttribute("name") is { Length: > 0 })
            .Where(e => e is IHtmlInputElement or IHtmlTextAreaElement or IHtmlSelectElement)
            .Where(e => e is not IHtmlInputElement { Type: "submit" or "button" or "image" or "reset" })
            .Select(e => new FoundField(
                e.GetAttribute("name")!,
                e is IHtmlInputElement input ? input.Type : e.LocalName,
                LabelOf(form, e),
                e.GetAttribute("autocomplete") ?? ""
            ))
            .DistinctBy(f => f.Name)
            .ToList();
        var key =
            form.Id is { Length: > 0 } id ? id
            : form.GetAttribute("name") is { Length: > 0 } name ? name
            : "fields:" + string.Join(',', fields.Select(f => f.Name));
        return (key, fields);
    }

    private static string LabelOf(IHtmlFormElement form, IElement field)
    {
        var label = field.Id is { Length: > 0 } id
            ? form.Owner?.QuerySelectorAll("label").FirstOrDefault(l => l.GetAttribute("for") == id)
            : null;
        var text =
            (label ?? field.Closest("label"))?.TextContent
            ?? field.GetAttribute("aria-label")
            ?? field.GetAttribute("placeholder")
            ?? "";
        return string.Join(' ', text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
    }

    private static Task<Dictionary<string, Counted>> SendsAsync(OutcryDb db, Guid siteId, CancellationToken stop) =>
        db
            .FormSends.AsNoTracking()
            .Where(f => f.SiteId == siteId)
            .GroupBy(f => f.Key)
            .Select(g => new Counted(g.Key, g.Count(), g.Min(f => f.At)))
            .ToDictionaryAsync(c => c.Key, stop);

    private sealed record Counted(string Key, int Times, Instant Since);

    private static FoundFormView View(FoundFormRow row, LiveSite site, Dictionary<string, Counted> sends)
    {
        var fields = row
            .Fields.Select(f => new FoundFieldView(
                f.Name,
                f.Type,
                f.Label,
                SafeField.MayLeave(f.Name, f.Type, f.Autocomplete)
            ))
            .ToList();
        var takes = site.Sources.Values.FirstOrDefault(s => s.DeletedAt is null && s.Form?.Form == row.Key);
        var sent = sends.GetValueOrDefault(row.Key);
        return new FoundFormView(
            row.Key,
            row.Path,
            fields,
            Guess(row, fields),
            takes?.Id,
            row.LastAt,
            sent?.Times ?? 0,
            sent?.Since
        );
    }

    private static FormMapping Guess(FoundFormRow row, List<FoundFieldView> fields)
    {
        var offered = fields.Where(f => f.MayLeave).ToList();
        var map = MapGuess.Guess(
            EventKind.Enquiry,
            [
                .. offered.Select(f => new FormField(
                    f.Name,
                    f.Type,
                    f.Label,
                    row.Fields.First(r => r.Name == f.Name).Autocomplete
                )),
            ]
        );
        return new FormMapping(
            row.Key,
            [],
            map.PlaceOf(FieldMeaning.FirstName),
            map.PlaceOf(FieldMeaning.LastName),
            map.PlaceOf(FieldMeaning.Email),
            map.PlaceOf(FieldMeaning.Product),
            [],
            null,
            map.PlaceOf(FieldMeaning.Phone)
        );
    }
}
