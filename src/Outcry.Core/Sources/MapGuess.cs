using Outcry.Core.Evidence;

namespace Outcry.Core.Sources;

/// <summary>Guesses what places mean from their names, so that a person has only to confirm.</summary>
public static class MapGuess
{
    // Folded names by meaning, the surest first. A name of several parts is tried whole, then by its last part.
    private static readonly (Meaning Meaning, string[] Names)[] Known =
    [
        (Meaning.Id, ["orderid", "eventid", "reviewid", "reference", "ordernumber", "number", "uuid", "id", "sku"]),
        (
            Meaning.Time,
            [
                "createdat",
                "time",
                "date",
                "datepublished",
                "orderdate",
                "timestamp",
                "created",
                "at",
                "when",
                "signedup",
                "signedupat",
                "submitted",
                "submittedat",
                "placedat",
                "orderedat",
                "paidat",
                "bookedat",
                "receivedat",
            ]
        ),
        (
            Meaning.FirstName,
            ["firstname", "givenname", "forename", "fullname", "customername", "author", "reviewer", "yourname", "name"]
        ),
        (Meaning.LastName, ["lastname", "familyname", "surname"]),
        (Meaning.Email, ["email", "mail", "emailaddress", "youremail"]),
        (Meaning.Phone, ["phone", "telephone", "mobile", "tel", "phonenumber"]),
        (Meaning.City, ["city", "town", "locality"]),
        (Meaning.Region, ["region", "state", "province", "county"]),
        (Meaning.Country, ["country", "countrycode"]),
        (Meaning.Product, ["product", "productname", "item", "itemname", "title", "workshop", "piece"]),
        (Meaning.ProductAddress, ["producturl", "url", "link", "productpage"]),
        (Meaning.ProductPicture, ["productimage", "image", "picture", "photo", "thumbnail"]),
        (Meaning.Category, ["category", "collection", "type"]),
        (Meaning.Amount, ["amount", "total", "price", "value", "totalprice", "subtotal"]),
        (Meaning.Currency, ["currency", "currencycode", "pricecurrency"]),
        (Meaning.Page, ["page", "pageurl", "landingpage"]),
        (Meaning.Visitor, ["visitor", "visitorid"]),
        (Meaning.Stars, ["stars", "rating", "ratingvalue", "score"]),
        (Meaning.Words, ["words", "review", "reviewbody", "comment", "body", "text", "quote"]),
        (Meaning.Left, ["left", "stock", "quantity", "stocklevel", "available", "onhand"]),
        (Meaning.Total, ["followers", "total", "count", "ratingcount", "likes"]),
        (Meaning.Test, ["test", "istest", "testmode"]),
    ];

    /// <summary>A map for the places by their names; places that mean nothing known are left out.</summary>
    /// <param name="kind">What the events are: a total is money in a purchase and a count in a profile.</param>
    /// <param name="places">Column headings, form fields, or JSON Pointers, in the data's own order.</param>
    public static EventMap Guess(EventKind kind, IReadOnlyList<string> places)
    {
        var offered = EventMap.Offered(kind);
        var known = Known.Where(k => offered.Contains(k.Meaning)).ToList();
        var found = new Dictionary<Meaning, string>();
        // Whole names first, for all: "/product/name" is a product before its last part can make it a person's name.
        foreach (var nameOf in new Func<string, string>[] { Folded, place => Folded(LastPart(place)) })
        foreach (var (meaning, names) in known.Where(k => !found.ContainsKey(k.Meaning)))
            if (Find(places.Where(p => !found.ContainsValue(p)), names, nameOf) is { } place)
                found[meaning] = place;
        return new EventMap(kind, found, new Dictionary<string, string>());
    }

    private static string? Find(IEnumerable<string> places, string[] names, Func<string, string> nameOf)
    {
        var left = places.ToLookup(nameOf);
        return names.SelectMany(n => left[n]).FirstOrDefault();
    }

    // Of a JSON Pointer the last part that is no place in a list: "/lines/0/title" is a title.
    private static string LastPart(string place)
    {
        var parts = place.Split('/', '.').Where(p => p.Length > 0 && !p.All(char.IsAsciiDigit)).ToList();
        return parts.Count == 0 ? place : parts[^1];
    }

    private static string Folded(string name) => new([.. name.ToLowerInvariant().Where(char.IsLetterOrDigit)]);
}
