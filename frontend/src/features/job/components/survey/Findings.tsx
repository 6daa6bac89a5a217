import { Box, Button, TextField, Typography } from "@mui/material";
import { WORDS } from "../../../../api/words";
import type { Schemas } from "../../../../api/client";
import { Row, Ruled, TapeField, useFollowing } from "../../../../shared";
import { answerWords, byGroup, touched, type Answer, type Answers, type Finding } from "../../logic/survey";

interface Props {
  /** Names drafts of lengths apart. */
  of: string;
  asked: readonly string[];
  answers: Answers;
  follows: readonly Schemas["FollowsOut"][];
  suggested?: Answers;
  refusals?: Readonly<Record<string, string>>;
  change: (findings: Record<string, string | string[] | null>) => void;
}

/** What is looked for, in the order one looks, and what each answer changes. Everything can be left open. */
export function Findings({ of, asked, answers, follows, suggested = {}, refusals = {}, change }: Props) {
  const said = Object.entries(suggested);
  return (
    <>
      {said.length > 0 && (
        <Button
          onClick={() => change(Object.fromEntries(said.map(([name, answer]) => [name, plain(answer)])))}
          sx={{ my: 1 }}
        >
          Take the {said.length} {said.length === 1 ? "answer" : "answers"} said last
        </Button>
      )}
      {byGroup(asked).map(([group, findings]) => (
        <Ruled key={group} title={WORDS.Group[group as keyof typeof WORDS.Group]}>
          {findings.map((finding) => (
            <OneFinding
              key={finding.name}
              of={of}
              finding={finding}
              answer={answers[finding.name]}
              last={suggested[finding.name]}
              refused={refusals[finding.name]}
              follows={follows.filter((one) => one.finding === finding.name)}
              change={(answer) => change({ [finding.name]: answer === null ? null : plain(answer) })}
            />
          ))}
        </Ruled>
      ))}
    </>
  );
}

function plain(answer: Answer): string | string[] {
  return typeof answer === "string" ? answer : [...answer];
}

interface OneProps {
  of: string;
  finding: Finding;
  answer: Answer | undefined;
  last: Answer | undefined;
  refused: string | undefined;
  follows: readonly Schemas["FollowsOut"][];
  change: (answer: Answer | null) => void;
}

function OneFinding({ of, finding, answer, last, refused, follows, change }: OneProps) {
  return (
    <Box sx={{ py: 0.75 }} data-finding={finding.name}>
      <AnswerField {...{ of, finding, answer, refused, change }} />
      {answer === undefined && last !== undefined && (
        <Button variant="text" size="small" onClick={() => change(last)}>
          Said last: {answerWords(finding, last)}
        </Button>
      )}
      {follows.map((one, i) => (
        <Typography
          key={i}
          data-follows={finding.name}
          sx={{ color: one.no_film ? "error.main" : "text.primary", fontWeight: one.no_film ? 700 : 500 }}
        >
          → {one.words}
          {one.minutes > 0 ? `; about ${one.minutes} min` : ""}
          {one.dollars ? `; $${one.dollars}` : ""}
          {one.tool ? ` · ${one.tool}` : ""}
          {one.caution ? <b> {one.caution}</b> : null}
        </Typography>
      ))}
    </Box>
  );
}

function AnswerField({ of, finding, answer, refused, change }: Omit<OneProps, "last" | "follows">) {
  const text = typeof answer === "string" ? answer : "";
  if (finding.how === "choice" || finding.how === "several") {
    const picked = typeof answer === "string" ? [answer] : (answer ?? []);
    return (
      <Box role="group" aria-label={finding.label}>
        <Typography sx={{ fontWeight: 600, mb: 0.5 }}>{finding.label}</Typography>
        <Row gap={1}>
          {Object.entries(finding.options).map(([option, words]) => (
            <Button
              key={option}
              variant={picked.includes(option) ? "contained" : "outlined"}
              aria-pressed={picked.includes(option)}
              onClick={() => change(touched(finding, answer, option))}
              sx={{ minHeight: 44 }}
            >
              {words}
            </Button>
          ))}
        </Row>
      </Box>
    );
  }
  if (finding.how === "length")
    return (
      <TapeField
        label={finding.label}
        saved={text}
        draftKey={`${of}.finding.${finding.name}`}
        refused={refused}
        onCommit={(typed) => change(typed)}
      />
    );
  return <Words finding={finding} text={text} change={change} refused={refused} />;
}

function Words({
  finding,
  text,
  refused,
  change,
}: {
  finding: Finding;
  text: string;
  refused: string | undefined;
  change: (answer: Answer | null) => void;
}) {
  const [typed, setTyped, given] = useFollowing(text);
  const number = finding.how === "number";
  const wrong = number && typed.trim() !== "" && !/^\d{1,3}$/.test(typed.trim());
  const keep = () => {
    given();
    if (!wrong && typed.trim() !== text) change(typed.trim() === "" ? null : typed.trim());
  };
  return (
    <TextField
      label={finding.label}
      value={typed}
      fullWidth
      multiline={!number}
      error={Boolean(wrong || refused)}
      helperText={wrong ? "A whole number" : refused}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (number && event.key === "Enter") keep();
      }}
      {...(number ? { slotProps: { htmlInput: { inputMode: "numeric" } } } : {})}
    />
  );
}
