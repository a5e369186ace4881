using System.Text.RegularExpressions;

namespace Outcry.Core.Pages;

/// <summary>Why pages are usually left out.</summary>
public enum UsualExcludeSort
{
    /// <summary>The visitor has just done what was asked for.</summary>
    ThankYou,

    /// <summary>The visitor is paying.</summary>
    Checkout,

    /// <summary>The visitor is signed in and at work.</summary>
    Account,

    /// <summary>The page is read for its own sake, and nobody buys there.</summary>
    Legal,
}

/// <summary>Pages that are usually left out, as an exclude that would take them out.</summary>
/// <param name="Sort">Why.</param>
/// <param name="Pattern">The pattern.</param>
/// <param name="Pages">The known pages it means, among those that show now.</param>
public sealed record UsualExclude(UsualExcludeSort Sort, string Pattern, IReadOnlyList<string> Pages);

/// <summary>Finds pages among the known ones that callouts are usually kept away from, by what sites call them.</summary>
/// <remarks>A list of usual names in a few languages: it offers and never decides.</remarks>
public static partial class UsualExcludes
{
    private static readonly (UsualExcludeSort Sort, Regex Names)[] Usual =
    [
        (UsualExcludeSort.ThankYou, ThankYouNames()),
        (UsualExcludeSort.Checkout, CheckoutNames()),
        (UsualExcludeSort.Account, AccountNames()),
        (UsualExcludeSort.Legal, LegalNames()),
    ];

    /// <summary>What could be left out.</summary>
    /// <param name="paths">Paths of known pages on which something shows now.</param>
    /// <returns>By sort, each page once; a page with others below it as one pattern for all of them.</returns>
    public static IReadOnlyList<UsualExclude> Among(IReadOnlyList<string> paths)
    {
        var found = new List<UsualExclude>();
        foreach (var (sort, names) in Usual)
        foreach (
            var group in paths
                .Where(p => !found.Exists(f => f.Pages.Contains(p)))
                .Select(p => (Path: p, Root: RootOf(p, names)))
                .Where(p => p.Root is not null)
                .GroupBy(p => p.Root!)
                .ToList()
        )
            found.Add(
                new UsualExclude(
                    sort,
                    group.All(p => p.Path == group.Key) ? group.Key : $"{group.Key}/**",
                    [.. group.Select(p => p.Path)]
                )
            );
        return found;
    }

    // The path up to the first segment that has such a name.
    private static string? RootOf(string path, Regex names)
    {
        var segments = path.Split('/', StringSplitOptions.RemoveEmptyEntries);
        var place = Array.FindIndex(segments, s => names.IsMatch(s));
        return place < 0 ? null : "/" + string.Join('/', segments.Take(place + 1));
    }

    private const RegexOptions Options = RegexOptions.IgnoreCase | RegexOptions.CultureInvariant;

    [GeneratedRegex(
        "^(thank-?s?-?(you)?|thanks-.*|.*-thank-you|order-(confirmed|complete|received)|confirmation|confirmed|success|danke|merci|gracias|bedankt|grazie|obrigad[oa])$",
        Options
    )]
    private static partial Regex ThankYouNames();

    [GeneratedRegex(
        "^(checkout|cart|basket|kasse|warenkorb|panier|caisse|carrito|winkelmand|carrello|payment|pay)$",
        Options
    )]
    private static partial Regex CheckoutNames();

    [GeneratedRegex(
        "^(account|my-account|profile|dashboard|login|log-in|sign-?in|sign-?up|register|settings|konto|anmelden|compte|cuenta|password)$",
        Options
    )]
    private static partial Regex AccountNames();

    [GeneratedRegex(
        "^(privacy(-policy)?|terms(-.*)?|legal(-notice)?|imprint|impressum|datenschutz|agb|cookies?(-policy)?|mentions-legales|accessibility|returns?-policy)$",
        Options
    )]
    private static partial Regex LegalNames();
}
