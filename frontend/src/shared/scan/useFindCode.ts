import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api } from "../../api/client";
import { unwrap } from "../../api/unwrap";

/** Goes to the piece of stock that a code is on. */
export function useFindCode(onFound: () => void) {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (code: string) => unwrap(api.GET("/api/codes/{code}", { params: { path: { code } } })),
    onSuccess: (found) => {
      onFound();
      void navigate(`/rack/${found.stock_id}`);
    },
  });
}
