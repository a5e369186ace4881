using Markdig;
using Markdig.Extensions.EmphasisExtras;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Outcry.Core.Saying;

/// <summary>Reads the small Markdown subset of messages (bold, italic, underline, link, line break) into spans.</summary>
/// <remarks>
/// CommonMark 0.31 without HTML; "++" underlines, as pandoc and others write inserted text; emphasis also beside letters of
/// scripts that put no spaces between words.
/// </remarks>
internal sealed class SpanReader
{
    private static readonly MarkdownPipeline Pipeline = new MarkdownPipelineBuilder()
        .DisableHtml()
        .UseCjkFriendlyEmphasis()
        .UseEmphasisExtras(EmphasisExtraOptions.Inserted)
        .Build();

    private readonly Slots _slots;
    private readonly List<Span> _spans = [];

    private SpanReader(Slots slots) => _slots = slots;

    /// <summary>The spans of a message. Anything outside the subset (headings, lists, pictures, code) is read as its text.</summary>
    /// <param name="markdown">The message with its values kept apart.</param>
    /// <param name="slots">The values.</param>
    public static IReadOnlyList<Span> Read(string markdown, Slots slots)
    {
        var reader = new SpanReader(slots);
        foreach (var leaf in Markdown.Parse(markdown, Pipeline).Descendants<LeafBlock>())
        {
            if (reader._spans.Count > 0)
                reader.Append("\n", default);
            if (leaf.Inline is { } inlines)
                reader.Walk(inlines, default);
            else
                reader.Append(leaf.Lines.ToString(), default);
        }
        return reader._spans;
    }

    private void Walk(ContainerInline container, Style style)
    {
        foreach (var inline in container)
            switch (inline)
            {
                case LiteralInline literal:
                    Append(literal.Content.ToString(), style);
                    break;
                case LineBreakInline:
                    Append("\n", style);
                    break;
                case HtmlEntityInline entity:
                    Append(entity.Transcoded.ToString(), style);
                    break;
                case CodeInline code:
                    Append(code.Content, style);
                    break;
                case AutolinkInline auto:
                    Append(auto.Url, style with { Link = SafeLink.TryPass(_slots.FillAddress(auto.Url)) });
                    break;
                case EmphasisInline emphasis:
                    Walk(emphasis, Emphasised(emphasis, style));
                    break;
                case LinkInline link:
                    Walk(
                        link,
                        style with
                        {
                            Link = link.IsImage ? null : SafeLink.TryPass(_slots.FillAddress(link.Url)),
                        }
                    );
                    break;
                case ContainerInline other:
                    Walk(other, style);
                    break;
            }
    }

    private static Style Emphasised(EmphasisInline emphasis, Style style) =>
        emphasis.DelimiterChar == '+' ? style with { Underlined = true }
        : emphasis.DelimiterCount >= 2 ? style with { Bold = true }
        : style with { Italic = true };

    private void Append(string text, Style style)
    {
        text = _slots.Fill(text);
        if (text.Length == 0)
            return;
        if (_spans is [.., var last] && StyleOf(last) == style)
            _spans[^1] = last with { Text = last.Text + text };
        else
            _spans.Add(new Span(text, style.Bold, style.Italic, style.Link, style.Underlined));
    }

    private static Style StyleOf(Span span) => new(span.Bold, span.Italic, span.Link, span.Underlined);

    private readonly record struct Style(bool Bold, bool Italic, string? Link, bool Underlined);
}
