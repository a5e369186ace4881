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

    /// <summary>They asked for something.</summary>
    Asked,

    /// <summary>They did what the site itself has a name for; no usual verb says that.</summary>
    OwnDeed,
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
            (Claim.Asked, Words("asked|enquired|inquired|enquir(?:y|ies)|inquir(?:y|ies)|requested|requests?")),
        ],
        ["de"] =
        [
            (Claim.Bought, Words("gekauft|kauften|kauft|bestellt|bestellten|Kunden|Käufer|Bestellungen")),
            (Claim.Booked, Words("gebucht|buchten|reserviert|Buchungen")),
            (Claim.Joined, Words("angemeldet|eingetragen|abonniert|Anmeldungen|Mitglieder|beigetreten")),
            (Claim.Looked, Words("angesehen|angeschaut|besucht|sehen|schauen|Besucher|Aufrufe")),
            (Claim.PutInBasket, Words("Warenkorb")),
            (Claim.Asked, Words("angefragt|fragte an|fragten an|Anfragen?|nachgefragt")),
        ],
        ["fr"] =
        [
            (Claim.Bought, Words("acheté|achetée|achetés|commandé|achats?|clients?|acheteurs?")),
            (Claim.Booked, Words("réservé|réservée|réservés|réservations?")),
            (Claim.Joined, Words("inscrits?|inscrites?|abonnés?|inscriptions?|rejoint|membres?")),
            (Claim.Looked, Words("regardé|regardent|consulté|vu|visité|visiteurs?|vues")),
            (Claim.PutInBasket, Words("panier")),
            (Claim.Asked, Words("demandé|demandée|demandes?|sollicité")),
        ],
        ["es"] =
        [
            (Claim.Bought, Words("compró|compraron|comprado|pedidos?|clientes?|compradores|compras")),
            (Claim.Booked, Words("reservó|reservaron|reservado|reservas?")),
            (Claim.Joined, Words("inscribió|inscribieron|suscrito|suscribieron|suscriptores|unieron|miembros")),
            (Claim.Looked, Words("miró|miraron|mirando|visto|vieron|visitó|visitaron|visitantes?|visitas")),
            (Claim.PutInBasket, Words("cesta|carrito")),
            (Claim.Asked, Words("preguntó|preguntaron|solicitó|solicitaron|consultas?|solicitudes")),
        ],
        ["nl"] =
        [
            (Claim.Bought, Words("gekocht|kocht|kochten|besteld|bestelden|klanten|kopers|bestellingen")),
            (Claim.Booked, Words("geboekt|boekten|gereserveerd|boekingen")),
            (Claim.Joined, Words("aangemeld|ingeschreven|geabonneerd|aanmeldingen|leden")),
            (Claim.Looked, Words("bekeken|bekijken|bezocht|kijken|bezoekers?|gezien")),
            (Claim.PutInBasket, Words("winkelmand|mandje")),
            (Claim.Asked, Words("aangevraagd|vroeg|vroegen|aanvraag|aanvragen")),
        ],
        ["it"] =
        [
            (Claim.Bought, Words("comprato|comprata|comprati|acquistato|acquistati|ordinato|ordini|clienti|acquisti")),
            (Claim.Booked, Words("prenotato|prenotata|prenotati|prenotazioni?")),
            (Claim.Joined, Words("iscritto|iscritta|iscritti|iscrizion[ei]|abbonati|membri")),
            (Claim.Looked, Words("guardato|guardando|visto|visitato|visitatori|visite|visualizzazioni")),
            (Claim.PutInBasket, Words("carrello")),
            (Claim.Asked, Words("chiesto|richiesto|richiest[ae]")),
        ],
        ["pt"] =
        [
            (Claim.Bought, Words("comprou|compraram|comprado|compras?|encomendou|encomendas?|clientes?|compradores")),
            (Claim.Booked, Words("reservou|reservaram|reservado|reservas?")),
            (Claim.Joined, Words("inscreveu|inscreveram|inscrição|inscrições|subscreveu|subscritores|membros")),
            (Claim.Looked, Words("viu|viram|visitou|visitaram|visitantes?|visitas|visualizações")),
            (Claim.PutInBasket, Words("cesto|carrinho")),
            (Claim.Asked, Words("perguntou|perguntaram|pediu|pediram|pedidos?")),
        ],
        ["ja"] =
        [
            // No spaces between words, so no borders of words either.
            (Claim.Bought, Parts("購入|買い|買っ|注文|お客様")),
            (Claim.Booked, Parts("予約")),
            (Claim.Joined, Parts("登録|申し込|加入|会員")),
            (Claim.Looked, Parts("閲覧|見ています|見ました|訪問")),
            (Claim.PutInBasket, Parts("かご|カート")),
            (Claim.Asked, Parts("問い合わせ|依頼")),
        ],
        ["ar"] =
        [
            (Claim.Bought, Words("اشترى|اشترت|اشتروا|شراء|طلبية|طلبيات|زبائن|مشتريات")),
            (Claim.Booked, Words("حجز|حجزت|حجزوا|حجوزات")),
            (Claim.Joined, Words("سجّل|سجل|سجلت|سجلوا|انضم|انضمت|انضموا|تسجيل|اشتركوا|أعضاء")),
            (Claim.Looked, Words("شاهد|شاهدوا|يشاهد|يتصفح|يتصفحون|زار|زاروا|زوار|زيارات")),
            (Claim.PutInBasket, Words("السلة|سلة")),
            (Claim.Asked, Words("طلب|سأل|سألوا|استفسر|استفسارات")),
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
            EventKind.Enquiry => [Claim.Asked],
            EventKind.Own => [Claim.OwnDeed],
            _ => [],
        };

    /// <summary>
    /// What is honestly claimed of events of a kind that were chosen by conditions: who bought a place on a course has booked
    /// it, and who bought a membership has joined.
    /// </summary>
    public static IReadOnlyCollection<Claim> ClaimsOf(EventKind kind, IReadOnlyCollection<FieldCondition> conditions) =>
        kind == EventKind.Purchase && conditions.Any(NamesWhat)
            ? [.. ClaimsOf(kind), Claim.Booked, Claim.Joined]
            : ClaimsOf(kind);

    private static bool NamesWhat(FieldCondition condition) =>
        condition is { Comparison: Comparison.Is or Comparison.Contains, Field: "product" or "category" };

    private static readonly Regex Tokens = new(@"\{\{.*?\}\}", RegexOptions.CultureInvariant, TimeSpan.FromSeconds(1));

    private static readonly Regex Quoted = new("\"([^\"]*)\"", RegexOptions.CultureInvariant, TimeSpan.FromSeconds(1));

    // Of a token only its written forms are words: {{ number | plural: one: "person has", other: "people have" }}.
    private static string FormsOf(string token) =>
        string.Join(' ', Quoted.Matches(token).Select(m => m.Groups[1].Value));

    private static Regex Parts(string alternatives) =>
        new(alternatives, RegexOptions.CultureInvariant, TimeSpan.FromSeconds(1));

    private static Regex Words(string alternatives) =>
        new(
            $@"\b(?:{alternatives})\b",
            RegexOptions.IgnoreCase | RegexOptions.CultureInvariant,
            TimeSpan.FromSeconds(1)
        );
}
