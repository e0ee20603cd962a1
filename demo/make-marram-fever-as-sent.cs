// The weekly cases as people send them: running totals by date with a title, a remark, a total and a note. Made from the clean table.
// Usage: dotnet run demo/make-marram-fever-as-sent.cs

var folder = args is [var given] ? given : "demo";
var cases = File.ReadLines(Path.Combine(folder, "marram-fever-cases.csv")).Skip(1).Select(line => line.Split(',')).ToList();
var spring = new DateOnly(2031, 3, 3);
var (total, lines) = (0, new List<string> { "Marram fever in Tesk, as the clinic counts it;;", "week ending;cases so far;remark" });
lines.Add($"{spring:dd.MM.yyyy};0;from the spring fair on");
foreach (var week in cases)
{
    total += int.Parse(week[1]);
    var day = spring.AddDays(int.Parse(week[0]));
    lines.Add($"{day:dd.MM.yyyy};{total};{(day.Month == 4 && day.Day < 8 ? "late" : "")}");
}
lines.Add($"{spring.AddDays(56):dd.MM.yyyy};NA;next count");
lines.Add($"sum;{total};");
lines.Add("counted by hand, checked once;;");
File.WriteAllText(Path.Combine(folder, "marram-fever-cases-as-sent.csv"), string.Join('\n', lines) + "\n");
