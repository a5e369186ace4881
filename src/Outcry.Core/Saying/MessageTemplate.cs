using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fluid;
using Fluid.Ast;

namespace Outcry.Core.Saying;

/// <summary>A message's text with its tokens: Liquid output tags with filters, then the Markdown subset.</summary>
/// <remarks>
/// Only <c>{{ token | filter }}</c> is taken. Liquid's own tags (loops, includes) are refused: a message is a sentence,
/// not a program. Values are kept out of the Markdown, so a name that contains markup reads as the marks it is made of.
/// </remarks>
public sealed class MessageTemplate
{
    /// <summary>Longest message, in characters.</summary>
    public const int MaxLength = 500;

    private static readonly FluidParser Parser = new();
    private static readonly TemplateOptions Options = MakeOptions();
    private static readonly ConcurrentDictionary<string, MessageTemplate> Known = new();

    private readonly IFluidTemplate _template;
    private readonly Lazy<string?> _failure;

    private MessageTemplate(IFluidTemplate template)
    {
        _failure = new Lazy<string?>(() => Try([0, 1, Evidence.EventFields.LongestValue]));
        var finder = TokenFinder.Find(template);
        (Tokens, WithoutFallback, PluralForms) = (finder.Found, finder.Bare, finder.Plurals);
        _template = Slots.Keep(template);
    }

    /// <summary>Tokens that stand somewhere without a fallback.</summary>
    public IReadOnlyList<string> WithoutFallback { get; }

    /// <summary>For each use of the plural filter, the forms it has, by their CLDR names.</summary>
    public IReadOnlyList<IReadOnlyList<string>> PluralForms { get; }

    /// <summary>Names of the tokens used, each once, in order of appearance.</summary>
    public IReadOnlyList<string> Tokens { get; }

    /// <summary>Reads a message.</summary>
    /// <param name="text">What the marketer wrote.</param>
    /// <param name="error">A sentence for that person when null is returned.</param>
    public static MessageTemplate? TryParse(string text, out string error)
    {
        error = "";
        if (Known.TryGetValue(text, out var known))
            return known;
        if (string.IsNullOrWhiteSpace(text))
            error = "The message is empty. Write what visitors should read.";
        else if (text.Length > MaxLength)
            error = $"The message has {text.Length} characters; {MaxLength} is the most.";
        else if (text.Contains("{%", StringComparison.Ordinal))
            error = "Only tokens in {{ double braces }} can be used in a message, not {% tags %}.";
        else if (!Parser.TryParse(Slots.Without(text), out var parsed, out _))
            error = Unreadable(text);
        else if (TemplateLimits.Objection(parsed) is { } objection)
            error = objection;
        else
            return Remember(text, new MessageTemplate(parsed));
        return null;
    }

    // The reader of templates tells where its own grammar broke; what helps is how a token is written.
    private static string Unreadable(string text)
    {
        var opens = text.LastIndexOf("{{", StringComparison.Ordinal);
        var token = opens < 0 ? text : text[opens..];
        var shown = token.Length > 40 ? $"{token[..40]}…" : token;
        return opens >= 0 && !token.Contains("}}", StringComparison.Ordinal)
            ? $"A token is not closed: \"}}}}\" is missing after \"{shown}\"."
            : "A token cannot be read. Write it as {{ name }}, or with a fallback as {{ name | default: \"Someone\" }}.";
    }

    /// <summary>Longest message once its tokens are filled, in characters; far beyond what any callout can hold.</summary>
    public const int MaxRendered = 4_000;

    /// <summary>Fills the tokens and reads the result into spans.</summary>
    /// <remarks>
    /// What may stand in a message is limited where it is parsed, so that filling it takes time and memory in proportion to
    /// its length: there are no loops, no ranges, and only filters that work on one text.
    /// </remarks>
    /// <param name="values">Values by token; a missing or empty one leaves its fallback, or nothing.</param>
    /// <param name="voice">Whose language decides the forms of nouns; English when left out.</param>
    /// <exception cref="WordingException">With these values it comes to nothing that can be said.</exception>
    public IReadOnlyList<Span> Render(IReadOnlyDictionary<string, string> values, Voice? voice = null)
    {
        var context = new TemplateContext(Options);
        PluralFilter.Prepare(
            context,
            voice ?? Voice.English,
            values is TokenValues known ? known.Numbers : ImmutableDictionary<string, decimal>.Empty
        );
        var isRightToLeft = LanguageTag.IsRightToLeft((voice ?? Voice.English).Language);
        foreach (var (token, value) in values)
            if (value.Length > 0)
                context.SetValue(token, Direction.Isolated(value, isRightToLeft));
        var slots = Slots.Begin(context);
        var filled = Fill(context, slots);
        return SpanReader.Read(EmptyTokens.Tidy(filled, slots, (voice ?? Voice.English).Language), slots);
    }

    /// <summary>Why it cannot be said, tried with nothing in its tokens and with as much as they ever hold; null when it can.</summary>
    public string? Failure => _failure.Value;

    /// <summary>Why it can never be said, whatever is in its tokens; null when at least short values can.</summary>
    public string? FailsAlways => Failure is null ? null : Try([1]);

    private string? Try(ReadOnlySpan<int> lengths)
    {
        foreach (var length in lengths)
            try
            {
                Render(Tokens.ToDictionary(t => t, _ => new string('x', length)));
            }
            catch (WordingException failed)
            {
                return failed.Message;
            }
        return null;
    }

    private string Fill(TemplateContext context, Slots slots)
    {
        string filled;
        try
        {
            filled = _template.Render(context, NullEncoder.Default);
        }
        catch (WordingException)
        {
            throw;
        }
        catch (Exception failure)
        {
            // Whatever a filter of the library's throws: it is this wording that cannot be said, and nothing else.
            throw new WordingException("The message cannot be filled in.", failure);
        }
        return filled.Length + slots.Length <= MaxRendered
            ? filled
            : throw new WordingException($"Filled in, the message is longer than {MaxRendered} characters.");
    }

    private static TemplateOptions MakeOptions()
    {
        var options = new TemplateOptions { MaxSteps = 1_000, MaxRecursion = 10 };
        options.Filters.AddFilter(PluralFilter.Name, PluralFilter.ApplyAsync);
        options.Filters.AddFilter(ReplaceFilter.Name, ReplaceFilter.ApplyAsync);
        Slots.AddTo(options);
        return options;
    }

    // The cache only saves parsing the same drafts again; a few thousand short texts are the most it ever holds.
    private static MessageTemplate Remember(string text, MessageTemplate template)
    {
        if (Known.Count > 5_000)
            Known.Clear();
        Known[text] = template;
        return template;
    }

    private sealed class TokenFinder : AstVisitor
    {
        private int _guarded;

        public List<string> Found { get; } = [];

        public List<string> Bare { get; } = [];

        public List<IReadOnlyList<string>> Plurals { get; } = [];

        public static TokenFinder Find(IFluidTemplate template)
        {
            var finder = new TokenFinder();
            finder.VisitTemplate(template);
            return finder;
        }

        protected override Expression VisitFilterExpression(FilterExpression filterExpression)
        {
            // What stands in a filter's arguments is itself a fallback or a form, and needs no fallback of its own.
            var guards = filterExpression.Name is "default" or PluralFilter.Name;
            if (filterExpression.Name == PluralFilter.Name)
                Plurals.Add([.. filterExpression.Parameters.Where(p => p.Name is not null).Select(p => p.Name)]);
            if (guards)
                _guarded++;
            var visited = base.VisitFilterExpression(filterExpression);
            if (guards)
                _guarded--;
            return visited;
        }

        protected override Expression VisitMemberExpression(MemberExpression memberExpression)
        {
            var name = string.Join(
                '.',
                memberExpression.Segments.OfType<IdentifierSegment>().Select(s => s.Identifier)
            );
            if (!Found.Contains(name))
                Found.Add(name);
            if (_guarded == 0 && !Bare.Contains(name))
                Bare.Add(name);
            return base.VisitMemberExpression(memberExpression);
        }
    }
}
