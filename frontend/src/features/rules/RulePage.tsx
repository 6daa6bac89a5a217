import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { Answer, ErrorNote, Head, Pending, Ruled } from "../../shared";
import { ruleQuery, type Rule, type RuleField } from "./api";
import { FieldDialog } from "./components/FieldDialog";
import { StripRuleDrawing } from "./components/StripRuleDrawing";

const CLASSES = [
  ["passenger", "Passenger car"],
  ["multipurpose", "Multipurpose: SUV, van, truck"],
] as const;
const POSITIONS = [
  ["front_side", "Front side"],
  ["rear_side", "Rear side"],
  ["rear_window", "Rear window"],
] as const;

/** One jurisdiction: every field with its standing, the linked rules, who said what when. */
export function RulePage() {
  const { code = "" } = useParams();
  const rule = useQuery(ruleQuery(code));
  const [params, setParams] = useSearchParams();
  const [opened, setOpened] = useState<string | null>(null);
  if (rule.isPending) return <Pending what="the record" />;
  if (rule.isError) return <ErrorNote error={rule.error} again={() => void rule.refetch()} />;
  const asked = opened ?? params.get("field");
  const field = rule.data.fields.find((one) => one.path === asked);
  const open = (path: string) => {
    setOpened(path);
  };
  const close = () => {
    setOpened(null);
    setParams({}, { replace: true });
  };
  const unconfirmed = rule.data.fields.filter((one) => one.unconfirmed).length;
  return (
    <>
      <Head
        buttons={
          <>
            <Button
              component={Link}
              to={`/rules/${rule.data.code}/confirm`}
              variant="contained"
              color="secondary"
            >
              Confirm this state
            </Button>
            <Button component={Link} to="/rules">
              All jurisdictions
            </Button>
          </>
        }
      >
        <Answer
          tone={unconfirmed ? "open" : "good"}
          why={`${rule.data.statute}. Version ${rule.data.version}, as on ${rule.data.day}, compiled ${rule.data.compiled}; memory ${rule.data.confidence}; ${rule.data.confirmed_on ? `last confirmed ${rule.data.confirmed_on}${rule.data.stale ? ", more than twelve months ago" : ""}` : "never confirmed here"}.${rule.data.effective_from ? ` In force since ${rule.data.effective_from}.` : ""}${rule.data.upcoming.length ? ` Something changes on ${rule.data.upcoming.join(", ")}.` : ""}`}
        >
          {rule.data.name}:{" "}
          {unconfirmed ? `${String(unconfirmed)} fields unconfirmed` : "every field confirmed"}
        </Answer>
      </Head>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1fr) minmax(0, 1fr)" },
          gap: 4,
        }}
      >
        <Box>
          <LightTable rule={rule.data} onOpen={open} />
          <Linked rule={rule.data} />
          <Ruled title="Windshield">
            <Box sx={{ display: "grid", gap: 2, mt: 1 }}>
              {rule.data.strips.map((strip) => (
                <StripRuleDrawing key={strip.vehicle_class} rule={strip} />
              ))}
            </Box>
            <FieldList fields={rule.data.fields.filter((one) => one.group === "windshield")} onOpen={open} />
          </Ruled>
        </Box>
        <Box>
          <Ruled title="Reflection, colour, mirrors">
            <FieldList
              fields={rule.data.fields.filter((one) =>
                ["reflection", "colour", "mirrors"].includes(one.group),
              )}
              onOpen={open}
            />
          </Ruled>
          <Readings rule={rule.data} onOpen={open} />
          <Ruled title="Papers and source">
            <FieldList
              fields={rule.data.fields.filter(
                (one) =>
                  ["papers", "source"].includes(one.group) ||
                  one.path === "basis" ||
                  one.path === "tolerance_points" ||
                  one.path === "works_inside_tolerance",
              )}
              onOpen={open}
            />
          </Ruled>
          <Ruled title="Notes">
            {rule.data.notes.length ? (
              rule.data.notes.map((note) => (
                <Typography key={note} sx={{ my: 1 }}>
                  {note}
                </Typography>
              ))
            ) : (
              <Typography sx={{ my: 1 }}>None.</Typography>
            )}
          </Ruled>
          <History rule={rule.data} />
        </Box>
      </Box>
      {field && <FieldDialog key={field.path} rule={rule.data} field={field} onClose={close} />}
    </>
  );
}

function Standing({ field }: { field: RuleField }) {
  if (field.source)
    return (
      <>
        {field.source.overruled ? "overruled" : "confirmed"} by {field.source.person}, {field.source.at}
      </>
    );
  return (
    <>
      {field.unconfirmed ? "unconfirmed" : "as compiled"}
      {field.disputed.length > 0 && ", disputed"}
    </>
  );
}

/** Least light by class and position: the heart of the record, large. */
function LightTable({ rule, onOpen }: { rule: Rule; onOpen: (path: string) => void }) {
  return (
    <Ruled title="Least light that must pass">
      <Table size="small" aria-label="Least light">
        <TableHead>
          <TableRow>
            <TableCell />
            {POSITIONS.map(([key, words]) => (
              <TableCell key={key}>{words}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {CLASSES.map(([vehicleClass, words]) => (
            <TableRow key={vehicleClass}>
              <TableCell sx={{ fontWeight: 700 }}>{words}</TableCell>
              {POSITIONS.map(([position]) => {
                const field = rule.fields.find((one) => one.path === `${vehicleClass}.${position}`);
                return field ? (
                  <TableCell key={position}>
                    <Button
                      variant="text"
                      onClick={() => {
                        onOpen(field.path);
                      }}
                      aria-label={`${field.label}: ${field.words}`}
                      sx={{
                        fontSize: { xs: "1rem", sm: "1.2rem" },
                        px: 0,
                        minWidth: 0,
                        textAlign: "left",
                        whiteSpace: "normal",
                      }}
                    >
                      {field.words}
                    </Button>
                    <Typography variant="body2" color="text.secondary">
                      <Standing field={field} />
                    </Typography>
                  </TableCell>
                ) : (
                  <TableCell key={position} />
                );
              })}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Ruled>
  );
}

function FieldList({ fields, onOpen }: { fields: RuleField[]; onOpen: (path: string) => void }) {
  return (
    <Table size="small">
      <TableBody>
        {fields.map((field) => (
          <TableRow key={field.path} data-field={field.path}>
            <TableCell>{field.label}</TableCell>
            <TableCell sx={{ fontWeight: 700 }}>{field.words}</TableCell>
            <TableCell>
              <Typography variant="body2" color="text.secondary">
                <Standing field={field} />
              </Typography>
            </TableCell>
            <TableCell align="right">
              <Button
                size="small"
                onClick={() => {
                  onOpen(field.path);
                }}
                aria-label={`${field.source ? "Change" : "Confirm"} ${field.label}`}
              >
                {field.source ? "Change" : "Confirm"}
              </Button>
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

const ROLES: Record<Rule["linked"][number]["role"], string> = {
  also: "besides",
  instead: "or instead",
  replaces: "in its place",
  scope: "only where",
};

function Linked({ rule }: { rule: Rule }) {
  if (rule.linked.length === 0) return null;
  return (
    <Ruled title="Linked rules">
      {rule.linked.map((clause) => (
        <Box key={clause.id} sx={{ py: 0.75 }}>
          <Typography>
            <b>{ROLES[clause.role]}</b>: {clause.sentence}
          </Typography>
          <Typography variant="body2" color="text.secondary">
            {clause.classes.length === 2 ? "both classes" : clause.classes.join()},{" "}
            {clause.on === "strip" ? "strip at the " : clause.on === "both" ? "strip and whole: " : ""}
            {clause.positions.join(", ").replace(/_/g, " ")} · {clause.citation}
          </Typography>
        </Box>
      ))}
    </Ruled>
  );
}

function Readings({ rule, onOpen }: { rule: Rule; onOpen: (path: string) => void }) {
  const fields = rule.fields.filter((one) => one.group === "reading");
  if (fields.length === 0) return null;
  return (
    <Ruled title="To be settled: the law can be read two ways">
      <FieldList fields={fields} onOpen={onOpen} />
    </Ruled>
  );
}

function History({ rule }: { rule: Rule }) {
  return (
    <Ruled title="The shop’s word, newest first">
      {rule.history.length === 0 && (
        <Typography sx={{ my: 1 }}>Nobody here has confirmed or overruled anything yet.</Typography>
      )}
      {rule.history.map((word) => (
        <Box key={word.id} sx={{ py: 0.75, borderTop: 1, borderColor: "divider" }}>
          <Typography sx={{ textDecoration: word.withdrawn_at ? "line-through" : "none" }}>
            <b>{word.label}</b>: {word.words}
          </Typography>
          <Typography variant="body2">
            {word.person},{" "}
            {new Date(word.at).toLocaleDateString("en-US", {
              day: "numeric",
              month: "short",
              year: "numeric",
            })}
            {word.effective_from && `, from ${word.effective_from}`}
            {word.effective_until && ` until ${word.effective_until}`}: {word.citation}
            {word.withdrawn_at && `. Withdrawn by ${word.withdrawn_by ?? "somebody"}`}
          </Typography>
        </Box>
      ))}
    </Ruled>
  );
}
