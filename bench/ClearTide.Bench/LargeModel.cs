using System.Text;
using ClearTide.Core.Models;

namespace ClearTide.Bench;

/// <summary>A made-up model of 60 compartments and 150 flows: five places of twelve states each, joined by the ferry.</summary>
public static class LargeModel
{
    public static string Lines()
    {
        string[] states = ["S", "E", "A", "I", "Q", "H", "C", "R", "W", "V", "B", "D"];
        string[] places = ["v", "t", "a", "q", "f"];
        var lines = new StringBuilder();
        for (var p = 0; p < places.Length; p++)
        {
            string X(string state) => $"{state}_{places[p]}";
            lines.AppendLine($"N_{places[p]} = {string.Join(" + ", states[..^1].Select(X))}");
            lines.AppendLine($"lambda_{places[p]} = beta * ({X("I")} + 0.5 * {X("A")}) / N_{places[p]}");
            lines.AppendLine($"{X("S")}(0) = {4000 + 500 * p} people; {X("I")}(0) = 3");
            lines.AppendLine($"{X("S")} -> {X("E")} : lambda_{places[p]} * {X("S")}");
            lines.AppendLine($"{X("V")} -> {X("B")} : 0.2 * lambda_{places[p]} * {X("V")}");
            foreach (var (from, to, rate) in new[]
            {
                ("E", "A", "0.1 per day"), ("E", "I", "0.2 per day"), ("A", "R", "0.2 per day"), ("I", "Q", "0.1 per day"), ("I", "H", "0.02 per day"), ("I", "R", "0.15 per day"),
                ("Q", "R", "0.2 per day"), ("Q", "H", "0.02 per day"), ("H", "C", "0.05 per day"), ("H", "R", "0.1 per day"), ("H", "D", "0.01 per day"), ("C", "R", "0.05 per day"), ("C", "D", "0.03 per day"),
                ("R", "W", "0.01 per day"), ("W", "S", "0.02 per day"), ("S", "V", "vac"), ("V", "W", "0.005 per day"), ("B", "R", "0.2 per day"), ("B", "H", "0.001 per day"),
            })
            {
                lines.AppendLine($"{X(from)} -> {X(to)} at {rate}");
            }
            var next = places[(p + 1) % places.Length];
            foreach (var state in new[] { "S", "E", "A", "I", "R", "W", "V", "B", "Q" }) lines.AppendLine($"{X(state)} -> {state}_{next} at ferry");
        }
        lines.AppendLine("beta = 0.4 per day; vac = 0.003 per day; ferry = 0.01 per day");
        return lines.ToString();
    }

    public static StudyDocument Study() => new AddLines(Lines()).Apply(new StudyDocument { Title = "Estuary", End = 200 }).Document ?? throw new InvalidOperationException("The model cannot be read.");
}
