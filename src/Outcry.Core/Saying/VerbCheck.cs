using System.Text.RegularExpressions;
using Outcry.Core.Evidence;

namespace Outcry.Core.Saying;

/// <summary>What a message claims that people did, told by its verbs.</summary>
public enum Claim
{
    /// <summary>They bought.</summary>
    Bought,

    /// <summary>They booked.</summary>
    Booked,

    /// <summary>They joined or signed up.</summary>
    Joined,

    /// <summary>They looked.</summary>
    Looked,

    /// <summary>They put something into the basket.</summary>
    PutInBasket,
}

/// <summary>Compares what a message claims with what is counted, so that a count of page views is not worded as purchases.</summary>
/// <remarks>A list of usual verbs in a few languages, not an understanding of them: it finds plain contradictions and never blocks.</remarks>
public static class VerbCheck
{
    private static readonly Dictionary<string, (Claim Claim, Regex Words)[]> ByLanguage = new()
    {
        ["en"] =
        [
            (Claim.Bought, Words("bought|buys?|purchased?|ordered|orders|sold|customers?|buyers?|shopped")),
            (Claim.Booked, Words("booked|bookings?|reserved|reservations?")),
            (Claim.Joined, Words("joined|signed up|subscribed|subscribers?|registered|sign-ups?|members?")),
            (Claim.Looked, Words("looked|looking|viewed|viewing|visited|visitors?|views|saw|browsed|browsing|read")),
            (Claim.PutInBasket, Words("basket|cart")),
        ],
        ["de"] =
        [
            (Claim.Bought, Words("gekauft|kauften|kauft|bestellt|bestellten|Kunden|Käufer|Bestellungen")),
            (Claim.Booked, Words("gebucht|buchten|reserviert|Buchungen")),
            (Claim.Joined, Words("angemeldet|eingetragen|abonniert|Anmeldungen|Mitglieder|beigetreten")),
            (Claim.Looked, Words("angesehen|angeschaut|besucht|sehen|schauen|Besucher|Aufrufe")),
            (Claim.PutInBasket, Words("Warenkorb")),
        ],
        ["fr"] =
        [
            (Claim.Bought, Words("acheté|achetée|achetés|commandé|achats?|clients?|acheteurs?")),
            (Claim.Booked, Words("réservé|réservée|réservés|réservations?")),
            (Claim.Joined, Words("inscrits?|inscrites?|abonnés?|inscriptions?|rejoint|membres?")),
            (Claim.Looked, Words("regardé|regardent|consulté|vu|visité|visiteurs?|vues")),
            (Claim.PutInBasket, Words("panier")),
        ],
        ["es"] =
        [
            (Claim.Bought, Words("compró|compraron|comprado|pedidos?|clientes?|compradores|compras")),
            (Claim.Booked, Words("reservó|reservaron|reservado|reservas?")),
            (Claim.Joined, Words("inscribió|inscribieron|suscrito|suscribieron|suscriptores|unieron|miembros")),
            (Claim.Looked, Words("miró|miraron|mirando|visto|vieron|visitó|visitaron|visitantes?|visitas")),
            (Claim.PutInBasket, Words("cesta|carrito")),
        ],
        ["nl"] =
        [
            (Claim.Bought, Words("gekocht|kocht|kochten|besteld|bestelden|klanten|kopers|bestellingen")),
            (Claim.Booked, Words("geboekt|boekten|gereserveerd|boekingen")),
            (Claim.Joined, Words("aangemeld|ingeschreven|geabonneerd|aanmeldingen|leden")),
            (Claim.Looked, Words("bekeken|bekijken|bezocht|kijken|bezoekers?|gezien")),
            (Claim.PutInBasket, Words("winkelmand|mandje")),
        ],
    };

    /// <summary>Languages whose usual verbs are known.</summary>
    public static IReadOnlyCollection<string> Languages => ByLanguage.Keys;

    /// <summary>The first claim in a message that is not what is counted, with the word that makes it; null when there is none.</summary>
    /// <param name="message">The message; tokens in it are passed over.</param>
    /// <param name="language">BCP 47 tag of the message.</param>
    /// <param name="counted">What is counted.</param>
    public static (Claim Claim, string Word)? Contradiction(
        string message,
        string language,
        IReadOnlyCollection<Claim> counted
    )
    {
        if (!ByLanguage.TryGetValue(LanguageTag.Main(language), out var claims))
            return null;
        var bare = Tokens.Replace(message, m => FormsOf(m.Value));
        // One honest verb settles what is meant: "visitors who bought" is about buying.
        if (claims.Any(c => counted.Contains(c.Claim) && c.Words.IsMatch(bare)))
            return null;
        foreach (var (claim, words) in claims)
            if (words.Match(bare) is { Success: true } word)
                return (claim, word.Value);
        return null;
    }

    /// <summary>What events of a kind are honestly called; none for kinds about which nothing is known.</summary>
    public static IReadOnlyCollection<Claim> ClaimsOf(EventKind kind) =>
        kind switch
        {
            EventKind.Purchase => [Claim.Bought],
            EventKind.Booking => [Claim.Booked, Claim.Bought],
            EventKind.SignUp => [Claim.Joined],
            EventKind.BasketAddition => [Claim.PutInBasket],
            _ => [],
        };

    private static readonly Regex Tokens = new(@"\{\{.*?\}\}", RegexOptions.CultureInvariant, TimeSpan.FromSeconds(1));

    private static readonly Regex Quoted = new("\"([^\"]*)\"", RegexOptions.CultureInvariant, TimeSpan.FromSeconds(1));

    // Of a token only its written forms are words: {{ number | plural: one: "person has", other: "people have" }}.
    private static string FormsOf(string token) =>
        string.Join(' ', Quoted.Matches(token).Select(m => m.Groups[1].Value));

    private static Regex Words(string alternatives) =>
        new(
            $@"\b(?:{alternatives})\b",
            RegexOptions.IgnoreCase | RegexOptions.CultureInvariant,
            TimeSpan.FromSeconds(1)
        );
}
