import { Box, Button, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { WORDS } from "../../../../api/words";
import { Choice, Row, Ruled, Tick, useSettings } from "../../../../shared";
import { thermometerQuery, type Happens } from "../../bay";
import type { Bay } from "../../logic/bay";

type Day = Bay["day"];
type Name = "glass_c" | "shop_c" | "outside_low_c";

const FIELDS: Record<Name, string> = {
  glass_c: "At the glass",
  shop_c: "In the shop",
  outside_low_c: "Coldest forecast",
};

/** Degrees as this screen counts: with inches °F, with millimetres °C. */
const DEGREES = {
  in: {
    mark: "°F",
    low: -58,
    high: 194,
    show: (celsius: number) => (celsius * 9) / 5 + 32,
    read: (shown: number) => ((shown - 32) * 5) / 9,
  },
  mm: { mark: "°C", low: -50, high: 90, show: (celsius: number) => celsius, read: (shown: number) => shown },
} as const;

/** Temperature, humidity, wind and sun as read or typed; and what that asks of soap, area and cure. */
export function DayPanel({ bay, happens }: { bay: Bay; happens: Happens }) {
  const { day } = bay;
  const degrees = DEGREES[useSettings().unit];
  const thermometer = useQuery(thermometerQuery());
  const [told, setTold] = useState("");
  const say = (change: Partial<Day>) => {
    const { glass_c, shop_c, humidity, outside_low_c, sun, wind } = { ...day, ...change };
    happens({ kind: "conditions", glass_c, shop_c, humidity, outside_low_c, sun, wind });
  };
  const read = () =>
    void thermometer.refetch().then(({ data }) => {
      if (!data) setTold("The server does not answer. Type the temperatures.");
      else if (data.there) {
        setTold(`Read from ${data.told}.`);
        say({ glass_c: data.glass_c, shop_c: data.shop_c, humidity: data.humidity });
      } else setTold(data.told);
    });
  return (
    <Ruled
      title="The day"
      action={
        <Button size="small" onClick={read} disabled={thermometer.isFetching}>
          Read the thermometer
        </Button>
      }
    >
      <Typography sx={{ fontWeight: 700, fontSize: "1.3rem" }}>{day.soap}</Typography>
      <Typography>
        of soap to place; {day.soap_rich} to clean. {day.area[0]?.toUpperCase()}
        {day.area.slice(1)}. Windows up {day.cure_days} days.
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1, mt: 1 }}>
        {(Object.keys(FIELDS) as Name[]).map((name) => (
          <NumberField
            key={`${name} ${degrees.mark} ${String(day[name])}`}
            label={`${FIELDS[name]}, ${degrees.mark}`}
            value={day[name] === null ? "" : String(Math.round(degrees.show(day[name])))}
            low={degrees.low}
            high={degrees.high}
            onKeep={(text) => say({ [name]: text.trim() === "" ? null : degrees.read(Number(text)) })}
          />
        ))}
        <NumberField
          key={`humidity ${String(day.humidity)}`}
          label="Humidity, %"
          value={day.humidity === null ? "" : String(Math.round(100 * day.humidity))}
          low={0}
          high={100}
          onKeep={(text) => say({ humidity: text.trim() === "" ? null : Number(text) / 100 })}
        />
      </Box>
      <Row>
        <Choice
          label="Sun"
          value={day.sun}
          options={WORDS.SunSide}
          onChange={(sun) => say({ sun })}
          sx={{ mt: 1, minWidth: 210 }}
        />
        <Tick label="Wind or open door" value={day.wind} onChange={(wind) => say({ wind })} />
      </Row>
      {told && <Typography role="status">{told}</Typography>}
      {day.go_on && <Typography sx={{ fontWeight: 700 }}>Goes on all the same: {day.go_on}</Typography>}
    </Ruled>
  );
}

function NumberField({
  label,
  value,
  low,
  high,
  onKeep,
}: {
  label: string;
  value: string;
  low: number;
  high: number;
  onKeep: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  const number = Number(text);
  const wrong = text.trim() !== "" && (Number.isNaN(number) || number < low || number > high);
  const keep = () => {
    if (!wrong && text !== value) onKeep(text);
  };
  return (
    <TextField
      label={label}
      value={text}
      error={wrong}
      helperText={wrong ? `${String(low)} to ${String(high)}` : undefined}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter") keep();
      }}
      slotProps={{ htmlInput: { inputMode: "decimal" } }}
    />
  );
}
