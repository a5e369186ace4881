using Outcry.Core.Evidence;

namespace Outcry.Core.Sources;

/// <summary>A field of a form, as the page has it.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Type">Its type: "email", "tel", "text".</param>
/// <param name="Label">What its label says; empty for none.</param>
/// <param name="Autocomplete">The browser's autofill tokens; null for none.</param>
public sealed record FormField(string Name, string Type, string Label, string? Autocomplete);

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

    // Names in the other shipped languages, folded alike: forms and files speak the language of the shop.
    private static readonly Dictionary<Meaning, string[]> Elsewhere = new()
    {
        [Meaning.Time] =
        [
            "datum",
            "zeit",
            "uhrzeit",
            "zeitpunkt",
            "fecha",
            "hora",
            "datahora",
            "data",
            "ora",
            "datetijd",
            "tijd",
            "heure",
            "jour",
            "日時",
            "日付",
            "تاريخ",
            "التاريخ",
        ],
        [Meaning.FirstName] =
        [
            "vorname",
            "prenom",
            "prénom",
            "nombre",
            "voornaam",
            "nome",
            "primeironome",
            "naam",
            "nom",
            "votrenom",
            "ihrname",
            "tunombre",
            "名前",
            "お名前",
            "氏名",
            "الاسم",
            "اسم",
        ],
        [Meaning.LastName] =
        [
            "nachname",
            "familienname",
            "nomdefamille",
            "apellido",
            "apellidos",
            "achternaam",
            "cognome",
            "apelido",
            "sobrenome",
            "姓",
            "名字",
            "اسمالعائلة",
        ],
        [Meaning.Email] =
        [
            "emailadresse",
            "mailadresse",
            "courriel",
            "adressemail",
            "adresseemail",
            "correo",
            "correoelectronico",
            "correoelectrónico",
            "emailadres",
            "indirizzoemail",
            "enderecodeemail",
            "メール",
            "メールアドレス",
            "البريد",
            "البريدالإلكتروني",
            "ihreemail",
            "ihreemailadresse",
            "votreemail",
        ],
        [Meaning.Phone] =
        [
            "telefon",
            "telefonnummer",
            "handy",
            "mobil",
            "handynummer",
            "telephone",
            "téléphone",
            "teléfono",
            "telefono",
            "movil",
            "móvil",
            "telefoon",
            "telefoonnummer",
            "cellulare",
            "telefone",
            "telemovel",
            "telemóvel",
            "電話",
            "電話番号",
            "هاتف",
            "الهاتف",
        ],
        [Meaning.City] =
        [
            "stadt",
            "ort",
            "wohnort",
            "ville",
            "ciudad",
            "stad",
            "plaats",
            "woonplaats",
            "citta",
            "città",
            "cidade",
            "市",
            "都市",
            "市区町村",
            "مدينة",
            "المدينة",
        ],
        [Meaning.Region] =
        [
            "bundesland",
            "région",
            "provincia",
            "provincie",
            "regione",
            "região",
            "regiao",
            "estado",
            "都道府県",
            "منطقة",
        ],
        [Meaning.Country] = ["land", "pays", "país", "pais", "paese", "国", "بلد", "البلد"],
        [Meaning.Product] =
        [
            "produkt",
            "artikel",
            "kurs",
            "stück",
            "stueck",
            "produit",
            "article",
            "atelier",
            "producto",
            "artículo",
            "articulo",
            "taller",
            "prodotto",
            "articolo",
            "corso",
            "produto",
            "artigo",
            "商品",
            "品名",
            "منتج",
            "المنتج",
        ],
        [Meaning.Amount] =
        [
            "betrag",
            "preis",
            "summe",
            "gesamt",
            "montant",
            "prix",
            "importe",
            "precio",
            "bedrag",
            "prijs",
            "totaal",
            "importo",
            "prezzo",
            "totale",
            "valor",
            "preco",
            "preço",
            "金額",
            "合計",
            "価格",
            "المبلغ",
            "السعر",
        ],
        [Meaning.Currency] = ["währung", "waehrung", "devise", "moneda", "valuta", "moeda", "通貨", "العملة"],
        [Meaning.Words] =
        [
            "nachricht",
            "kommentar",
            "bewertung",
            "message",
            "commentaire",
            "avis",
            "mensaje",
            "comentario",
            "bericht",
            "opmerking",
            "messaggio",
            "commento",
            "mensagem",
            "comentário",
            "メッセージ",
            "ご意見",
            "رسالة",
            "yourmessage",
        ],
        [Meaning.Stars] =
        [
            "sterne",
            "étoiles",
            "etoiles",
            "estrellas",
            "sterren",
            "stelle",
            "estrelas",
            "評価",
            "星",
            "نجوم",
        ],
        [Meaning.Left] =
        [
            "bestand",
            "lager",
            "verfügbar",
            "voorraad",
            "disponible",
            "existencias",
            "giacenza",
            "disponibile",
            "disponivel",
            "disponível",
            "在庫",
            "المخزون",
        ],
        [Meaning.Category] =
        [
            "kategorie",
            "catégorie",
            "categorie",
            "categoría",
            "categoria",
            "カテゴリー",
            "カテゴリ",
            "فئة",
        ],
        [Meaning.Id] =
        [
            "bestellnummer",
            "nummer",
            "numero",
            "numéro",
            "número",
            "注文番号",
            "رقمالطلب",
            "ordernummer",
            "numeroordine",
        ],
    };

    /// <summary>A map for the places by their names; places that mean nothing known are left out.</summary>
    /// <param name="kind">What the events are: a total is money in a purchase and a count in a profile.</param>
    /// <param name="places">Column headings, form fields, or JSON Pointers, in the data's own order.</param>
    public static EventMap Guess(EventKind kind, IReadOnlyList<string> places)
    {
        var offered = EventMap.Offered(kind);
        var known = Known
            .Where(k => offered.Contains(k.Meaning))
            .Select(k => (k.Meaning, Names: (string[])[.. k.Names, .. Elsewhere.GetValueOrDefault(k.Meaning, [])]))
            .ToList();
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

    /// <summary>A map for the fields of a form: by what browsers fill in there, else by type, name and label, in that order.</summary>
    /// <param name="kind">What the events are.</param>
    /// <param name="fields">The form's fields.</param>
    public static EventMap Guess(EventKind kind, IReadOnlyList<FormField> fields)
    {
        var offered = EventMap.Offered(kind);
        var found = new Dictionary<Meaning, string>();
        void Take(Meaning meaning, string name)
        {
            if (offered.Contains(meaning) && !found.ContainsKey(meaning) && !found.ContainsValue(name))
                found[meaning] = name;
        }
        foreach (var field in fields)
            if (OfAutofill(field.Autocomplete) is { } meaning)
                Take(meaning, field.Name);
        foreach (var field in fields)
            if (
                field.Type switch
                {
                    "email" => Meaning.Email,
                    "tel" => Meaning.Phone,
                    _ => (Meaning?)null,
                } is
                { } typed
            )
                Take(typed, field.Name);
        foreach (var nameOf in new Func<FormField, string>[] { f => f.Name, f => f.Label })
        {
            var left = fields.Where(f => !found.ContainsValue(f.Name) && nameOf(f).Length > 0).ToList();
            foreach (var (meaning, place) in Guess(kind, [.. left.Select(nameOf)]).Places)
                Take(meaning, left.First(f => nameOf(f) == place).Name);
        }
        return new EventMap(kind, found, new Dictionary<string, string>());
    }

    // Tokens of the HTML standard's autofill, "shipping given-name" among them.
    private static Meaning? OfAutofill(string? autocomplete) =>
        autocomplete?.Split(' ', StringSplitOptions.RemoveEmptyEntries).LastOrDefault() switch
        {
            "name" or "given-name" => Meaning.FirstName,
            "family-name" => Meaning.LastName,
            "email" => Meaning.Email,
            "tel" or "tel-national" => Meaning.Phone,
            "address-level2" => Meaning.City,
            "address-level1" => Meaning.Region,
            "country" or "country-name" => Meaning.Country,
            _ => null,
        };

    private static string Folded(string name) => new([.. name.ToLowerInvariant().Where(char.IsLetterOrDigit)]);
}
