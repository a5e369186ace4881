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
    private static readonly (FieldMeaning Meaning, string[] Names)[] Known =
    [
        (
            FieldMeaning.Id,
            ["orderid", "eventid", "reviewid", "reference", "ordernumber", "number", "uuid", "id", "sku"]
        ),
        (
            FieldMeaning.Time,
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
            FieldMeaning.FirstName,
            ["firstname", "givenname", "forename", "fullname", "customername", "author", "reviewer", "yourname", "name"]
        ),
        (FieldMeaning.LastName, ["lastname", "familyname", "surname"]),
        (FieldMeaning.Email, ["email", "mail", "emailaddress", "youremail"]),
        (FieldMeaning.Phone, ["phone", "telephone", "mobile", "tel", "phonenumber"]),
        (FieldMeaning.City, ["city", "town", "locality"]),
        (FieldMeaning.Region, ["region", "state", "province", "county"]),
        (FieldMeaning.Country, ["country", "countrycode"]),
        (FieldMeaning.Product, ["product", "productname", "item", "itemname", "title", "workshop", "piece"]),
        (FieldMeaning.ProductAddress, ["producturl", "url", "link", "productpage"]),
        (FieldMeaning.ProductPicture, ["productimage", "image", "picture", "photo", "thumbnail"]),
        (FieldMeaning.Category, ["category", "collection", "type"]),
        (FieldMeaning.Amount, ["amount", "total", "price", "value", "totalprice", "subtotal"]),
        (FieldMeaning.Currency, ["currency", "currencycode", "pricecurrency"]),
        (FieldMeaning.Page, ["page", "pageurl", "landingpage"]),
        (FieldMeaning.Visitor, ["visitor", "visitorid"]),
        (FieldMeaning.Stars, ["stars", "rating", "ratingvalue", "score"]),
        (FieldMeaning.Words, ["words", "review", "reviewbody", "comment", "body", "text", "quote"]),
        (FieldMeaning.Left, ["left", "stock", "quantity", "stocklevel", "available", "onhand"]),
        (FieldMeaning.Total, ["followers", "total", "count", "ratingcount", "likes"]),
        (FieldMeaning.Test, ["test", "istest", "testmode"]),
    ];

    // Names in the other shipped languages, folded alike: forms and files speak the language of the shop.
    private static readonly Dictionary<FieldMeaning, string[]> Elsewhere = new()
    {
        [FieldMeaning.Time] =
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
        [FieldMeaning.FirstName] =
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
        [FieldMeaning.LastName] =
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
        [FieldMeaning.Email] =
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
        [FieldMeaning.Phone] =
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
        [FieldMeaning.City] =
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
        [FieldMeaning.Region] =
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
        [FieldMeaning.Country] = ["land", "pays", "país", "pais", "paese", "国", "بلد", "البلد"],
        [FieldMeaning.Product] =
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
        [FieldMeaning.Amount] =
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
        [FieldMeaning.Currency] = ["währung", "waehrung", "devise", "moneda", "valuta", "moeda", "通貨", "العملة"],
        [FieldMeaning.Words] =
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
        [FieldMeaning.Stars] =
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
        [FieldMeaning.Left] =
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
        [FieldMeaning.Category] =
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
        [FieldMeaning.Id] =
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
        var found = new Dictionary<FieldMeaning, string>();
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
        var found = new Dictionary<FieldMeaning, string>();
        void Take(FieldMeaning meaning, string name)
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
                    "email" => FieldMeaning.Email,
                    "tel" => FieldMeaning.Phone,
                    _ => (FieldMeaning?)null,
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
    private static FieldMeaning? OfAutofill(string? autocomplete) =>
        autocomplete?.Split(' ', StringSplitOptions.RemoveEmptyEntries).LastOrDefault() switch
        {
            "name" or "given-name" => FieldMeaning.FirstName,
            "family-name" => FieldMeaning.LastName,
            "email" => FieldMeaning.Email,
            "tel" or "tel-national" => FieldMeaning.Phone,
            "address-level2" => FieldMeaning.City,
            "address-level1" => FieldMeaning.Region,
            "country" or "country-name" => FieldMeaning.Country,
            _ => null,
        };

    private static string Folded(string name) => new([.. name.ToLowerInvariant().Where(char.IsLetterOrDigit)]);
}
