using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics.X86;
using System.Text;
using Allowance.Core.Forms;

namespace Allowance.Core.Asks;

/// <summary>What may be at hand while she answers.</summary>
public enum Support { None, Line, Frame, Fingers, Things, Rack }

/// <summary>
/// One small question that a turn puts to a player, such as <c>part 10 6 numeral</c>: a kind, its numbers, the form or
/// forms, and a support. It is packed into 63 bits, so that a simulated game can hand asks on without allocating.
/// One or two numbers may be as large as 1,048,575, three or four as large as 1023, five or six as large as 127.
/// </summary>
public readonly record struct Ask
{
    private const int HeaderBits = 22, TwoBits = 20, MostOfTwo = (1 << TwoBits) - 1;

    /// <summary>Bits for each number where there are so many.</summary>
    private static int Bits(int numbers) => numbers <= 2 ? TwoBits : numbers <= 4 ? 10 : 7;

    /// <summary>The packed value: equal asks have equal codes.</summary>
    public long Code { get; private init; }

    public Ask(AskKind kind, ReadOnlySpan<int> numbers, Form form, Form second = Form.None, Support support = Support.None)
    {
        int bits = Bits(numbers.Length);
        if (numbers.Length > 6) throw new ArgumentException("An ask has at most six numbers.", nameof(numbers));
        long code = (long)kind | (long)form << 5 | (long)second << 10 | (long)support << 15 | (long)numbers.Length << 18;
        for (int i = 0; i < numbers.Length; i++)
        {
            if (numbers[i] < 0 || numbers[i] >= 1 << bits) throw new ArgumentOutOfRangeException(nameof(numbers), numbers[i], $"A number here is from 0 to {(1 << bits) - 1}.");
            code |= (long)numbers[i] << (HeaderBits + i * bits);
        }
        Code = code;
    }

    // One or two numbers are by far the most common, and are packed without going through a list.
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Ask(AskKind kind, int a, Form form, Form second = Form.None, Support support = Support.None)
    {
        if ((uint)a > MostOfTwo) TooLarge(a);
        Code = (long)kind | (long)form << 5 | (long)second << 10 | (long)support << 15 | 1L << 18 | (long)a << HeaderBits;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Ask(AskKind kind, int a, int b, Form form, Support support = Support.None)
    {
        if (((uint)a | (uint)b) > MostOfTwo) TooLarge(Math.Max(a, b) > MostOfTwo ? Math.Max(a, b) : Math.Min(a, b));
        Code = (long)kind | (long)form << 5 | (long)support << 15 | 2L << 18 | (long)a << HeaderBits | (long)b << HeaderBits + TwoBits;
    }

    private static void TooLarge(int number) => throw new ArgumentOutOfRangeException(nameof(number), number, $"A number here is from 0 to {MostOfTwo}.");

    /// <summary>"How many together" of up to six numbers below 128, one in each byte from the lowest; for inner loops.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    internal static Ask Join(ulong numbers, int count, Form form, Support support)
    {
        long code = (long)AskKind.Join | (long)form << 5 | (long)support << 15 | (long)count << 18;
        // Bytes become lanes of twenty or ten bits, or lose their eighth bit, in one instruction where there is one.
        if (Bmi2.X64.IsSupported)
            return new() { Code = code | (long)(count <= 4 ? Bmi2.X64.ParallelBitDeposit(numbers, count <= 2 ? 0xFF0_00FFUL : 0x3F_CFF3_FCFFUL) : Bmi2.X64.ParallelBitExtract(numbers, 0x7F7F_7F7F_7F7F)) << HeaderBits };
        return new() { Code = code | Packed(numbers, count) };
    }

    /// <summary>In the place of how many numbers there are: they were not noted.</summary>
    private const int NotNoted = 7;

    /// <summary>The same without its numbers, for a note with real things where nobody said which lay there: it speaks of the skill and of no fact.</summary>
    /// <param name="to">The largest number that can come up there; 0 where that is not known.</param>
    public Ask WithoutNumbers(int to) => new() { Code = Code & 0x3FFFF | (long)NotNoted << 18 | (long)Math.Clamp(to, 0, MostOfTwo) << HeaderBits };

    private int Field => (int)(Code >> 18 & 7);

    /// <summary>Its numbers were not noted.</summary>
    public bool IsWithoutNumbers => Field == NotNoted;

    /// <summary>Where its numbers were not noted: the largest that can come up, or 0 where that is not known.</summary>
    public int To => IsWithoutNumbers ? this[0] : 0;

    /// <summary>They are about the same numbers, whatever is asked of them.</summary>
    public bool HasTheNumbersOf(Ask other) => Code >> 18 == other.Code >> 18;

    /// <summary>They ask the same, of whatever numbers.</summary>
    public bool IsOfTheSortOf(Ask other) => (Code & 0x3FFFF) == (other.Code & 0x3FFFF);

    private static long Packed(ulong numbers, int count)
    {
        int bits = Bits(count);
        long code = 0;
        for (int i = 0, at = HeaderBits; i < count; i++, at += bits, numbers >>= 8) code |= (long)(numbers & 255) << at;
        return code;
    }

    public static Ask FromCode(long code) => new() { Code = code };

    public AskKind Kind => (AskKind)(Code & 31);

    public Form Form => (Form)(Code >> 5 & 31);

    public Form Second => (Form)(Code >> 10 & 31);

    public Support Support => (Support)(Code >> 15 & 7);

    /// <summary>How many numbers it has; 0 where they were not noted.</summary>
    public int Count => Field == NotNoted ? 0 : Field;

    public int this[int i] => (int)(Code >> (HeaderBits + i * Bits(Count))) & ((1 << Bits(Count)) - 1);

    /// <summary>The number she must come to, where the ask has one; −1 otherwise.</summary>
    public int Answer => IsWithoutNumbers ? -1 : Kind switch
    {
        AskKind.Say or AskKind.Take or AskKind.Match or AskKind.Guess or AskKind.Place or AskKind.Trace => this[0],
        AskKind.On or AskKind.Step => this[0] + this[1],
        AskKind.Join => Total,
        AskKind.Back or AskKind.Gone or AskKind.Part or AskKind.Gap => this[0] - this[1],
        AskKind.More => Math.Max(this[0], this[1]),
        AskKind.Even => (this[0] + this[1]) / 2,
        AskKind.Share => this[0] / Math.Max(1, this[1]),
        AskKind.Double => 2 * this[0],
        AskKind.Times => Product,
        _ => -1,
    };

    /// <summary>The sum of its numbers.</summary>
    public int Total
    {
        get
        {
            int sum = 0;
            for (int i = 0; i < Count; i++) sum += this[i];
            return sum;
        }
    }

    private int Product
    {
        get
        {
            int product = 1;
            for (int i = 0; i < Count; i++) product *= this[i];
            return product;
        }
    }

    /// <summary>The largest number that is shown or must be found.</summary>
    public int Largest
    {
        get
        {
            int largest = Math.Max(Answer, To);
            for (int i = 0; i < Count; i++) largest = Math.Max(largest, this[i]);
            return largest;
        }
    }

    /// <summary>Which outcomes it can have: an amount can be counted, a figure or a word is only read.</summary>
    public OutcomeScale Scale => Kind == AskKind.Say && Form is (Form.Numeral or Form.Word) ? OutcomeScale.Told : Kind.Facts().Scale;

    /// <summary>A number stands there in letters, and has to be read.</summary>
    public bool HasWrittenWords => Form == Form.Word || Kind == AskKind.Match && Second == Form.Word;

    public Ask With(Support support) => new() { Code = Code & ~(7L << 15) | (long)support << 15 };

    /// <summary>The same in a form, with this support.</summary>
    public Ask In(Form form, Support support) => new() { Code = Code & ~(7L << 15 | 31L << 5) | (long)support << 15 | (long)form << 5 };

    /// <summary>The ask as it is written in files: <c>kind numbers form +support</c>; with a star in the place of numbers that were not noted, and the range where it is known: <c>join * numeral to 20</c>.</summary>
    public override string ToString()
    {
        var text = new StringBuilder(Kind.Facts().Id);
        if (IsWithoutNumbers) text.Append(" *");
        for (int i = 0; i < Count; i++) text.Append(' ').Append(this[i]);
        if (Form != Form.None) text.Append(' ').Append(Form.Id());
        if (Second != Form.None) text.Append(' ').Append(Second.Id());
        if (To > 0) text.Append(" to ").Append(To);
        if (Support != Support.None) text.Append(" +").Append(Support.ToString().ToLowerInvariant());
        return text.ToString();
    }

    /// <summary>Reads an ask as written in files.</summary>
    /// <returns>Null with the reason in <paramref name="problem"/> where it cannot be read.</returns>
    public static Ask? Parse(string text, out string problem)
    {
        problem = "";
        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        var facts = words.Length == 0 ? null : AskKinds.All.FirstOrDefault(k => k.Id == words[0]);
        if (facts is null)
        {
            problem = $"\"{Shorten(words.FirstOrDefault() ?? "")}\" is no kind of ask; the kinds are {string.Join(", ", AskKinds.All.Select(k => k.Id))}.";
            return null;
        }
        var numbers = new List<int>();
        var forms = new List<Form>();
        var support = Support.None;
        bool noNumbers = words.ElementAtOrDefault(1) == "*";
        int? to = null;
        for (int at = noNumbers ? 2 : 1; at < words.Length; at++)
        {
            string word = words[at];
            if (noNumbers && to is null && word == "to" && int.TryParse(words.ElementAtOrDefault(at + 1), System.Globalization.NumberStyles.None, null, out int most) && most >= 1 && most <= Most(facts.Kind))
            {
                to = most;
                at++;
            }
            else if (!noNumbers && int.TryParse(word, System.Globalization.NumberStyles.None, null, out int n) && n <= Most(facts.Kind) && forms.Count == 0) numbers.Add(n);
            else if (word[0] == '+' && char.IsAsciiLetter(word.ElementAtOrDefault(1)) && Enum.TryParse(word[1..], true, out support)) { }
            else if (FormTable.Find(word) is { } form and not Form.None) forms.Add(form);
            else
            {
                problem = $"\"{Shorten(word)}\" in \"{Shorten(text)}\" is neither a number up to {Most(facts.Kind)} nor a form; it should read like \"{facts.Example}\".";
                return null;
            }
        }
        if (noNumbers && forms.Count == facts.Forms) return new Ask(facts.Kind, 0, forms.ElementAtOrDefault(0), forms.ElementAtOrDefault(1), support).WithoutNumbers(to ?? 0);
        bool wide = numbers.Count <= 4 || numbers.TrueForAll(n => n < 128);
        if (numbers.Count < facts.Numbers.Least || numbers.Count > facts.Numbers.Most || forms.Count != facts.Forms || !wide || !Sensible(facts.Kind, numbers))
        {
            problem = $"\"{Shorten(text)}\" should read like \"{facts.Example}\".";
            return null;
        }
        return new Ask(facts.Kind, [.. numbers], forms.ElementAtOrDefault(0), forms.ElementAtOrDefault(1), support);
    }

    /// <summary>The largest number in an ask of this kind: what is compared may have been multiplied.</summary>
    private static int Most(AskKind kind) => kind is AskKind.More or AskKind.Gap or AskKind.Digits ? 1_000_000 : 1000;

    private static bool Sensible(AskKind kind, List<int> n) => kind switch
    {
        AskKind.Part or AskKind.Gone or AskKind.Gap or AskKind.Back or AskKind.Even => n[0] >= n[1],
        AskKind.Share => n[1] > 0,
        _ => true,
    };

    private static string Shorten(string text) => text.Length <= 60 ? text : text[..60] + "…";
}
