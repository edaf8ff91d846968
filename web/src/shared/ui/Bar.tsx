// The bar at the top: the mark, where I am, who else is here, what is saved, and the way out.
import { useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { type Me, client, get } from '@/shared/api/client';
import { becomeSomebody } from '@/shared/api/session';
import './bar.css';

export function Bar({ me, where, children }: { me: Me; where: ReactNode; children?: ReactNode }) {
  const queries = useQueryClient();
  const leave = () => {
    void get(client.POST('/api/sign-out')).then((next) => becomeSomebody(queries, next));
  };
  return (
    <header className="bar">
      <Link to="/" className="bar-mark" aria-label="Hobrel, to the start page">
        <img src={`${import.meta.env.BASE_URL}mark.svg`} alt="" width="24" height="24" />
        <b>Hobrel</b>
      </Link>
      <div className="bar-where">{where}</div>
      <div className="bar-right">
        {children}
        <span className="bar-me">{me.name}</span>
        <Button size="small" type="text" onClick={leave}>
          Sign out
        </Button>
      </div>
    </header>
  );
}
