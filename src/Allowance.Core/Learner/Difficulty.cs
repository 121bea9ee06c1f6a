using Allowance.Core.Asks;
using Allowance.Core.Forms;

namespace Allowance.Core.Learner;

/// <summary>How much harder an ask is than a usual one of its band, in logits.</summary>
public static class Difficulty
{
    public static double Of(Ask ask)
    {
        Span<int> bands = stackalloc int[4];
        Feeding.Of(ask, bands);
        if (ask.IsWithoutNumbers) return OfSome(ask, bands[0]);
        double size = Math.Max(1, Size(ask)), usual = UsualSize(ask, Feeding.Bands[bands[0]].Band);
        double difficulty = Constants.PerDoubling * Math.Log2(size / usual) * Weight(ask.Kind);
        int a = ask[0], b = ask.Count > 1 ? ask[1] : 0;
        switch (ask.Kind)
        {
            case AskKind.Join:
                if (ask.Count == 2 && a == b) difficulty += Constants.Double;
                if (ask.Count == 2 && a < 10 && b < 10 && a + b > 10) difficulty += Constants.CrossingTen;
                if (HasZero(ask)) difficulty += Constants.Zero;
                difficulty += Constants.FurtherAddend * (ask.Count - 2);
                break;
            case AskKind.Part:
                if (a == 2 * b) difficulty += Constants.Double;
                if (b == 0 || a == b) difficulty += Constants.Zero;
                else if (a - b == 1 || b == 1) difficulty += Constants.ByOne;
                if (a > 10 && b < 10 && a - b < 10) difficulty += Constants.CrossingTen;
                break;
            case AskKind.Gone:
                if (a == 2 * b) difficulty += Constants.Double;
                if (b == 0 || a == b) difficulty += Constants.Zero;
                if (a > 10 && a - b < 10 && b < 10) difficulty += Constants.CrossingTen;
                break;
            case AskKind.On or AskKind.Back:
                if (a / 10 != ask.Answer / 10) difficulty += Constants.CrossingTen;
                break;
            case AskKind.More:
                difficulty += a == b ? Constants.Zero : .5 * Math.Log2(Math.Max(1, (double)Math.Min(a, b)) / Math.Max(a, b)) + .5;
                break;
        }
        if (ask.HasWrittenWords) difficulty += Constants.WrittenWord;
        if (ask.Support != Support.None) difficulty += Constants.Support;
        bool amount = ask.Kind is (AskKind.Say or AskKind.Match) && ask.Form is not (Form.Numeral or Form.Word);
        if (amount) difficulty -= ask.Form.Facts().Ease;
        else difficulty -= Constants.EaseElsewhere * ask.Form.Facts().Ease;
        if (ask.Kind == AskKind.Say && amount) difficulty -= Constants.OrCounted;
        if (ask.Kind == AskKind.Match) difficulty -= ask.Second.Facts().Ease / 2;
        return difficulty;
    }

    /// <summary>Where the numbers were not noted: the mean over asks of this kind in the band, in its form and with its support where they can have them.</summary>
    private static double OfSome(Ask ask, int band)
    {
        var alike = BandAsks.Of(band).Where(a => a.Kind == ask.Kind).ToList();
        var inForm = alike.Where(a => a.Form == ask.Form).ToList();
        var of = inForm.Count > 0 ? inForm : alike.Count > 0 ? alike : [.. BandAsks.Of(band)];
        return of.Average(a => Of(a.With(ask.Support)));
    }

    /// <summary>What makes an ask large: the whole and the smaller part for bonds, else the largest number in it.</summary>
    private static double Size(Ask ask) => ask.Kind switch
    {
        AskKind.Part or AskKind.Gone or AskKind.Gap => ask[0] * .5 + Math.Min(ask[1], ask[0] - ask[1]),
        AskKind.Join when ask.Count == 2 => ask.Total * .5 + Math.Min(ask[0], ask[1]),
        _ => ask.Largest,
    };

    private static double UsualSize(Ask ask, int band) => ask.Kind switch
    {
        AskKind.Part or AskKind.Gone or AskKind.Gap or AskKind.Join when ask.Count == 2 => .72 * band,
        _ => .75 * band,
    };

    /// <summary>Saying, reading and ordering grow less steeply with size than joining.</summary>
    private static double Weight(AskKind kind) => kind is AskKind.Part or AskKind.Gone or AskKind.Join or AskKind.Gap or AskKind.Say ? 1 : .6;

    private static bool HasZero(Ask ask)
    {
        for (int i = 0; i < ask.Count; i++)
            if (ask[i] == 0) return true;
        return false;
    }
}
