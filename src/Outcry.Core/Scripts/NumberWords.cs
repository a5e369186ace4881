namespace Outcry.Core.Scripts;

/// <summary>Number words from nought to twenty in the languages that Outcry speaks.</summary>
internal static class NumberWords
{
    private static readonly Dictionary<string, string[]> ByLanguage = new()
    {
        ["en"] =
        [
            "zero",
            "one",
            "two",
            "three",
            "four",
            "five",
            "six",
            "seven",
            "eight",
            "nine",
            "ten",
            "eleven",
            "twelve",
            "thirteen",
            "fourteen",
            "fifteen",
            "sixteen",
            "seventeen",
            "eighteen",
            "nineteen",
            "twenty",
        ],
        ["de"] =
        [
            "null",
            "eins",
            "zwei",
            "drei",
            "vier",
            "fünf",
            "sechs",
            "sieben",
            "acht",
            "neun",
            "zehn",
            "elf",
            "zwölf",
            "dreizehn",
            "vierzehn",
            "fünfzehn",
            "sechzehn",
            "siebzehn",
            "achtzehn",
            "neunzehn",
            "zwanzig",
        ],
        ["fr"] =
        [
            "zéro",
            "un",
            "deux",
            "trois",
            "quatre",
            "cinq",
            "six",
            "sept",
            "huit",
            "neuf",
            "dix",
            "onze",
            "douze",
            "treize",
            "quatorze",
            "quinze",
            "seize",
            "dix-sept",
            "dix-huit",
            "dix-neuf",
            "vingt",
        ],
        ["es"] =
        [
            "cero",
            "uno",
            "dos",
            "tres",
            "cuatro",
            "cinco",
            "seis",
            "siete",
            "ocho",
            "nueve",
            "diez",
            "once",
            "doce",
            "trece",
            "catorce",
            "quince",
            "dieciséis",
            "diecisiete",
            "dieciocho",
            "diecinueve",
            "veinte",
        ],
        ["nl"] =
        [
            "nul",
            "een",
            "twee",
            "drie",
            "vier",
            "vijf",
            "zes",
            "zeven",
            "acht",
            "negen",
            "tien",
            "elf",
            "twaalf",
            "dertien",
            "veertien",
            "vijftien",
            "zestien",
            "zeventien",
            "achttien",
            "negentien",
            "twintig",
        ],
        ["it"] =
        [
            "zero",
            "uno",
            "due",
            "tre",
            "quattro",
            "cinque",
            "sei",
            "sette",
            "otto",
            "nove",
            "dieci",
            "undici",
            "dodici",
            "tredici",
            "quattordici",
            "quindici",
            "sedici",
            "diciassette",
            "diciotto",
            "diciannove",
            "venti",
        ],
        ["pt"] =
        [
            "zero",
            "um",
            "dois",
            "três",
            "quatro",
            "cinco",
            "seis",
            "sete",
            "oito",
            "nove",
            "dez",
            "onze",
            "doze",
            "treze",
            "catorze",
            "quinze",
            "dezasseis",
            "dezassete",
            "dezoito",
            "dezanove",
            "vinte",
        ],
        ["ja"] = ["零", "一", "二", "三", "四", "五", "六", "七", "八", "九", "十", "十一", "十二"],
        ["ar"] =
        [
            "صفر",
            "واحد",
            "اثنان",
            "ثلاثة",
            "أربعة",
            "خمسة",
            "ستة",
            "سبعة",
            "ثمانية",
            "تسعة",
            "عشرة",
            "أحد عشر",
            "اثنا عشر",
        ],
    };

    /// <summary>The first number word and where it begins; null where there is none.</summary>
    public static (int Number, int At)? First(string text, string language)
    {
        if (!ByLanguage.TryGetValue(language.Split('-')[0].ToLowerInvariant(), out var words))
            return null;
        (int Number, int At)? first = null;
        // Longer ones first, so that "seventeen" is not "seven" and "dix-sept" not "dix".
        foreach (var (word, number) in words.Select((w, i) => (w, i)).OrderByDescending(w => w.w.Length))
            for (
                var at = text.IndexOf(word, StringComparison.OrdinalIgnoreCase);
                at >= 0;
                at = text.IndexOf(word, at + 1, StringComparison.OrdinalIgnoreCase)
            )
                if (IsWhole(text, at, word.Length) && !(first?.At <= at))
                {
                    first = (number, at);
                    break;
                }
        return first;
    }

    // Not within another word; where words stand without spaces between them there is no such edge.
    private static bool IsWhole(string text, int at, int length) =>
        text[at] >= '\u3000'
        || ((at == 0 || !IsPart(text[at - 1])) && (at + length == text.Length || !IsPart(text[at + length])));

    private static bool IsPart(char c) => char.IsLetter(c) || c == '-';
}
